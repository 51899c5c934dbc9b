/** At most so much of a run's output is kept, in bytes. */
export const MOST_OUTPUT_BYTES = 100_000;
const HEAD_BYTES = 20_000;
const TAIL_BYTES = MOST_OUTPUT_BYTES - HEAD_BYTES;

/**
 * Gathers the output of a run as it arrives and keeps its beginning and its end; memory is bounded however long it
 * goes on.
 */
export class OutputKeeper {
  private readonly head: Uint8Array[] = [];
  private headBytes = 0;
  private tail: Uint8Array[] = [];
  private tailBytes = 0;
  size = 0;

  add(chunk: Uint8Array): void {
    this.size += chunk.length;
    const room = Math.min(chunk.length, HEAD_BYTES - this.headBytes);
    if (room > 0) {
      this.head.push(chunk.subarray(0, room));
      this.headBytes += room;
    }
    const rest = chunk.subarray(room);
    if (rest.length === 0) return;
    this.tail.push(rest);
    this.tailBytes += rest.length;
    while (this.tailBytes - this.tail[0]!.length >= TAIL_BYTES) this.tailBytes -= this.tail.shift()!.length;
  }

  /** The text that is kept, null for none; where a middle is left out, a line says how much. */
  asText(): string | null {
    if (this.size === 0) return null;
    const tail = join(this.tail).subarray(Math.max(0, this.tailBytes - TAIL_BYTES));
    const left = this.size - this.headBytes - tail.length;
    if (left === 0) return decode(join([...this.head, tail]));
    return `${decode(join(this.head))}\n[… ${left} bytes left out …]\n${decode(tail)}`;
  }
}

function join(chunks: readonly Uint8Array[]): Uint8Array {
  const joined = new Uint8Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0));
  let at = 0;
  for (const chunk of chunks) {
    joined.set(chunk, at);
    at += chunk.length;
  }
  return joined;
}

const decoder = new TextDecoder();

function decode(bytes: Uint8Array): string {
  return decoder.decode(bytes).replaceAll('\0', '\uFFFD');
}
