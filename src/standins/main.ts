import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { keptAuthority } from './certificates';
import { Harbour } from './harbour';
import type { JobOptions } from './job';

/**
 * Starts the practice harbour by itself: STANDIN_PORT, LANTERN_DATA, STANDIN_JOBS (a JSON file),
 * and STANDIN_STATUS_PAGE (where the public page begins).
 */
async function main(): Promise<void> {
  const folder = process.env.LANTERN_DATA || 'data';
  const authority = await keptAuthority(folder);
  const jobsFile = process.env.STANDIN_JOBS;
  const jobs = jobsFile ? (JSON.parse(readFileSync(jobsFile, 'utf8')) as JobOptions[]) : [];
  const harbour = await Harbour.start({
    basePort: Number(process.env.STANDIN_PORT || 4790),
    authority,
    jobs,
    folder: resolve(folder),
    statusPage: process.env.STANDIN_STATUS_PAGE,
  });
  process.stdout.write(`practice harbour: http://127.0.0.1:${harbour.port}\n`);
  const stop = () => void harbour.stop().then(() => process.exit(0));
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}

main().catch((error: unknown) => {
  process.stderr.write(`practice harbour: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
