import { closeSync, existsSync, fsyncSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { join, resolve } from 'node:path';

const RESERVE_FILE = 'reserve';
const MOST_RESERVE_BYTES = 16_000_000;
const LEAST_RESERVE_BYTES = 500_000;
/** Of the whole disk. */
const RESERVE_SHARE = 0.03;
/** Nearly full is so many times the reserve. */
const LOW_TIMES = 4;

export type RoomState = 'enough' | 'low' | 'full';

/**
 * Keeps some room on the disk of the data folder that nothing else can take, and lets go of it when the disk is full, so
 * that what matters most can still be written: outages and messages.
 */
export class DiskSpace {
  private readonly file: string;
  readonly folder: string;
  private refused = false;

  constructor(folder: string) {
    this.folder = resolve(folder);
    this.file = join(this.folder, RESERVE_FILE);
  }

  private stat(): { freeBytes: number; reserveBytes: number } {
    const { bavail, bsize, blocks } = statfsSync(this.folder);
    const share = blocks * bsize * RESERVE_SHARE;
    return {
      freeBytes: bavail * bsize,
      reserveBytes: Math.round(Math.min(MOST_RESERVE_BYTES, Math.max(LEAST_RESERVE_BYTES, share))),
    };
  }

  get freeBytes(): number {
    return this.stat().freeBytes;
  }

  /** How it stands; while a write was refused for want of room it is full, until there is room for the reserve again. */
  state(): RoomState {
    const { freeBytes, reserveBytes } = this.stat();
    if (this.refused) {
      if (freeBytes < reserveBytes * LOW_TIMES) return 'full';
      this.refused = false;
    }
    if (freeBytes < reserveBytes && !existsSync(this.file)) return 'full';
    return freeBytes < reserveBytes * (LOW_TIMES - 1) ? 'low' : 'enough';
  }

  /** Takes the reserve where there is room for it. */
  keepReserve(): void {
    if (existsSync(this.file) || this.state() !== 'enough') return;
    const { reserveBytes } = this.stat();
    const handle = openSync(this.file, 'w', 0o600);
    try {
      // Written out: a file with a hole in it reserves nothing.
      const block = Buffer.alloc(64 * 1024, 1);
      for (let at = 0; at < reserveBytes; at += block.length) writeSync(handle, block);
      fsyncSync(handle);
    } catch {
      rmSync(this.file, { force: true });
    } finally {
      closeSync(handle);
    }
  }

  /** A write was refused: the reserve is for now. */
  useReserve(): void {
    this.refused = true;
    rmSync(this.file, { force: true });
  }
}
