/** The figures of one run: printed as they come, and kept as a table. */
export class BenchTable {
  private readonly rows: string[][] = [];

  private add(what: string, ours: string, bare: string, ratio: string, aim: string): void {
    this.rows.push([what, ours, bare, ratio, aim]);
    console.log(
      `${what.padEnd(58)} ${ours.padStart(12)} ${bare.padStart(8)} ${ratio.padStart(6)}  (aim ${aim})`,
    );
  }

  /** A figure beside that of the bare thing it is built from. */
  ratio(what: string, ours: number, bare: number, aim: number, way = 'at least'): void {
    this.add(what, ours.toFixed(0), bare.toFixed(0), (ours / bare).toFixed(2), `${way} ${aim}`);
  }

  /**
   * The same in rounds, ours and the bare thing by turns: a machine that gets busy half way through slows both. The
   * median of the rounds' ratios counts, with the figures it came from.
   */
  async rounds(
    what: string,
    ours: () => Promise<number>,
    bare: () => Promise<number>,
    aim: number,
    rounds = 5,
  ): Promise<void> {
    const seen: { ours: number; bare: number }[] = [];
    for (let i = 0; i < rounds; i += 1) seen.push({ ours: await ours(), bare: await bare() });
    const byRatio = seen.sort((a, b) => a.ours / a.bare - b.ours / b.bare);
    const middle = byRatio[Math.floor(rounds / 2)]!;
    this.ratio(what, middle.ours, middle.bare, aim);
  }

  /** A figure that has nothing bare to stand beside. */
  figure(what: string, value: string, aim: string): void {
    this.add(what, value, '', '', aim);
  }

  markdown(): string {
    const head = ['what', 'measured', 'bare', 'ratio', 'aim'];
    const lines = [head, head.map(() => '---'), ...this.rows].map((row) => `| ${row.join(' | ')} |`);
    return `# What it reaches\n\nWritten by \`npm run bench\`: each figure beside the bare thing it is built from, in one run on two cores, by\nturns and in rounds, of which the middle one counts. Only such ratios mean anything: a machine has quiet and busy hours.\n\n${lines.join('\n')}\n`;
  }
}
