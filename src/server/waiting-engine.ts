import { spawn, type ChildProcess } from 'node:child_process';
import { WAITS } from '@/engine/link/waits';

/** What the engine's scripts may keep in memory; ten thousand watches take a tenth of it. */
const HEAP_MB = 1_500;

function spawnEngine(script: string, waits: boolean): ChildProcess {
  // A group of its own: Ctrl-C reaches the front door only, which then stops the engine in good order.
  return spawn(process.execPath, [`--max-old-space-size=${HEAP_MB}`, script, ...(waits ? [WAITS] : [])], {
    stdio: ['ignore', 'inherit', 'inherit', ...(waits ? (['ipc'] as const) : [])],
    detached: true,
    // Name look-ups wait in the thread pool; with four threads, four slow names would hold up all others.
    env: { UV_THREADPOOL_SIZE: '32', ...process.env },
  });
}

/**
 * An engine that is begun before anybody needs it, does nothing until it is told to, and ends when whoever began it
 * does before that. It is the first that is started; later ones come from the same script and do not wait.
 */
export class WaitingEngine {
  private child: ChildProcess | null;

  constructor(private readonly script: string) {
    const child = spawnEngine(script, true);
    this.child = child;
    // One that is gone, or could not be started, is started anew by whoever needs it.
    const forget = () => {
      if (this.child === child) this.child = null;
    };
    child.once('exit', forget);
    child.once('error', forget);
    // Nobody waits for it here.
    child.unref();
    child.channel?.unref();
  }

  /** The one that waits, which goes on now; or another where there is none. */
  start(): ChildProcess {
    const { child } = this;
    this.child = null;
    if (!child?.connected) return spawnEngine(this.script, false);
    child.ref();
    // It hangs up by itself; one that has died since is noticed by that.
    child.send('go', () => undefined);
    return child;
  }

  /** Nobody needs it: an engine runs already. */
  discard(): void {
    if (this.child?.connected) this.child.disconnect();
    this.child = null;
  }
}
