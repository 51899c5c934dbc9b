/** Who hears of a watch: as the routes say, these channels besides, these alone, or nobody. */
export const TELLS = ['by-routes', 'besides', 'instead', 'nobody'] as const;
export type Tells = (typeof TELLS)[number];

export const TELLS_WORDS: Readonly<Record<Tells, string>> = {
  'by-routes': 'as the routes say',
  besides: 'as the routes say, and these too',
  instead: 'only these',
  nobody: 'nobody',
};
