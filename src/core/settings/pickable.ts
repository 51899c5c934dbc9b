/** So many names of watches are sent with a form; where there are more, they are asked for while one types. */
export const MOST_PICKABLE = 200;
