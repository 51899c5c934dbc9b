/** What would be made of one line, or why nothing can be. */
export interface BulkVerdict {
  line: number;
  text: string;
  /** The body for POST /watches; null where the line cannot be used. */
  watch: Record<string, unknown> | null;
  kind: string;
  name: string;
  /** What is wrong, with what was expected. */
  problem: string | null;
  /** What was done to make it fit, or what to know. */
  note: string | null;
}
