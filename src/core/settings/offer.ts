/** One way in which what was typed could be watched, tried already. */
export interface Offer {
  kind: string;
  title: string;
  name: string;
  settings: object;
  /** It answered. */
  fits: boolean;
  /** What came of trying, in one sentence. */
  said: string;
}
