import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { openStore } from '@/store/db/open';
import { savePulse } from '@/store/history/intake-gaps';
import { fillDemo } from './fill';

/** Fills the demo data and writes which jobs the practice harbour is to run. */
async function main(): Promise<void> {
  const environment = readEnvironment(process.env);
  const started = Date.now();
  const base = linkBase(environment);
  const db = await openStore(environment.dataFolder, { durable: false });
  const filled = await fillDemo({
    db,
    now: started,
    harbourPort: Number(process.env.STANDIN_PORT || 4790),
    drawings: join(import.meta.dirname, '..', 'practice', 'pictures'),
    onProgress: (done, all, name) => console.log(`  ${String(done).padStart(2)} of ${all}  ${name}`),
  });
  await savePulse(db, Date.now());
  await db.destroy();
  const jobs = filled.flatMap(({ demo, checkinKey }) =>
    demo.type === 'checkin' && demo.live && checkinKey
      ? [
          {
            id: demo.key,
            title: demo.name,
            cron: demo.live.cron,
            failsEvery: demo.live.failsEvery,
            runMs: Math.min(demo.runMs, 6000),
            checkinAddress: `${base}/in/${checkinKey}`,
          },
        ]
      : [],
  );
  writeFileSync(join(environment.dataFolder, 'practice-jobs.json'), JSON.stringify(jobs, null, 2));
  console.log(`  Ninety days filled in ${((Date.now() - started) / 1000).toFixed(1)} s.`);
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
