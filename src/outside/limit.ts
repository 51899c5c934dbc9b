/** A time limit of one's own on top of a signal from above. */
export interface Limit {
  signal: AbortSignal;
  /** The time was up; the signal from above may have ended it too. */
  readonly isOver: boolean;
  /** Lets go of timer and listener; has to be called whichever way the work ends. */
  release: () => void;
}

/**
 * A signal that ends after `ms`, or with the one from above. Made of a controller and a timer that are held for as
 * long as the limit is: what `AbortSignal.any` makes of a time-out may be collected, and then never fires.
 */
export function limitTime(ms: number, above?: AbortSignal): Limit {
  const controller = new AbortController();
  let isOver = false;
  const timer = setTimeout(() => {
    isOver = true;
    controller.abort(new DOMException('The time is up.', 'TimeoutError'));
  }, ms);
  const onAbove = () => controller.abort(above!.reason);
  if (above?.aborted) onAbove();
  else above?.addEventListener('abort', onAbove, { once: true });
  return {
    signal: controller.signal,
    get isOver() {
      return isOver;
    },
    release: () => {
      clearTimeout(timer);
      above?.removeEventListener('abort', onAbove);
    },
  };
}
