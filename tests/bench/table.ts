/* eslint-disable no-console */

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

  /** A figure that has nothing bare to stand beside. */
  figure(what: string, value: string, aim: string): void {
    this.add(what, value, '', '', aim);
  }

  markdown(): string {
    const head = ['what', 'measured', 'bare', 'ratio', 'aim'];
    const lines = [head, head.map(() => '---'), ...this.rows].map((row) => `| ${row.join(' | ')} |`);
    return `# What it reaches\n\nWritten by \`npm run bench\`: each figure beside the bare thing it is built from, in one run on two cores. Only\nratios of one run mean anything: the same machine has quiet and busy hours.\n\n${lines.join('\n')}\n`;
  }
}
