const COMPLAIN_MS = 60_000;

/** Passes an error on once a minute: a database that refuses does so at every try. */
export function onceAMinute(onError: (error: unknown) => void): (error: unknown) => void {
  let complainedAt = -Infinity;
  return (error) => {
    if (performance.now() - complainedAt < COMPLAIN_MS) return;
    complainedAt = performance.now();
    onError(error);
  };
}
