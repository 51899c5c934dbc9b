/** Something simulated that can be broken and mended. */
export interface StandIn {
  readonly id: string;
  readonly title: string;
  readonly address: string;
  readonly modes: readonly string[];
  readonly mode: string;
  start: () => Promise<void>;
  setMode: (mode: string) => Promise<void>;
  stop: () => Promise<void>;
}
