import { limitTime } from './limit';

/** More came than was wanted, or it took longer than it may. */
export class OutsideError extends Error {
  constructor(
    readonly why: 'too-long' | 'too-slow',
    message: string,
    /** What had come by then. */
    readonly begun: Buffer,
  ) {
    super(message);
  }
}

export interface Bounds {
  mostBytes: number;
  withinMs: number;
  signal?: AbortSignal;
}

type Source = AsyncIterable<Uint8Array> | ReadableStream<Uint8Array> | null | undefined;

/**
 * The one way to read what comes from outside: at most so many bytes, within so much time. The source is let go of at
 * the first byte too many or when the time is up, with an `OutsideError`. Nothing at all is an empty buffer.
 */
export async function readBounded(source: Source, { mostBytes, withinMs, signal }: Bounds): Promise<Buffer> {
  if (!source) return Buffer.alloc(0);
  const iterator = (source as AsyncIterable<Uint8Array>)[Symbol.asyncIterator]();
  const limit = limitTime(withinMs, signal);
  const chunks: Buffer[] = [];
  let bytes = 0;
  const ended = new Promise<'ended'>((resolve) =>
    limit.signal.aborted
      ? resolve('ended')
      : limit.signal.addEventListener('abort', () => resolve('ended'), { once: true }),
  );
  const letGo = () => {
    // A source that hangs does not answer this either; nobody waits for it.
    void Promise.resolve(iterator.return?.()).catch(() => undefined);
    (source as { destroy?: () => void }).destroy?.();
  };
  try {
    for (;;) {
      const step = iterator.next();
      const next = await Promise.race([step, ended]);
      if (next === 'ended') {
        step.catch(() => undefined);
        letGo();
        if (!limit.isOver) throw signal?.reason ?? new Error('aborted');
        throw new OutsideError('too-slow', `It took longer than ${withinMs} ms.`, Buffer.concat(chunks));
      }
      if (next.done) return Buffer.concat(chunks);
      bytes += next.value.length;
      chunks.push(Buffer.from(next.value));
      if (bytes > mostBytes) {
        letGo();
        const begun = Buffer.concat(chunks).subarray(0, mostBytes);
        throw new OutsideError('too-long', `It is longer than ${mostBytes} bytes.`, begun);
      }
    }
  } finally {
    limit.release();
  }
}
