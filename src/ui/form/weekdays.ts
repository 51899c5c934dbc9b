/** The days of the week as they are chosen from; 1 is Monday, 7 Sunday. */
export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].map((text, i) => ({
  value: String(i + 1),
  text,
}));
