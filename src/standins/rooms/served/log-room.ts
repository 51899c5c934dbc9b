import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { ServedRoom } from './served-room';

const READ_EVERY_MS = 500;

/** A file that a script writes down in; what stands there is shown. */
export class LogRoom extends ServedRoom {
  override readonly modes = [];
  private timer: NodeJS.Timeout | null = null;
  private read = 0;

  constructor(private readonly file: string) {
    super('log', 'Harbour log', 'nothing: a script writes it');
  }

  get how(): string {
    return `Script write-down, argument ${this.file}. Calm Lantern has to be started with LANTERN_SCRIPTS, as the demo is.`;
  }

  async start(): Promise<void> {
    writeFileSync(this.file, '');
    this.timer = setInterval(() => this.look(), READ_EVERY_MS);
    this.timer.unref();
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
  }

  private look(): void {
    const text = existsSync(this.file) ? readFileSync(this.file, 'utf8') : '';
    const whole = text.slice(0, text.lastIndexOf('\n') + 1);
    for (const line of whole.slice(this.read).split('\n')) if (line !== '') this.keep(line);
    this.read = whole.length;
  }
}
