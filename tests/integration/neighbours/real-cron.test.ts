import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { leewayFor, readCrontab, wrappedLine } from '@/core/imports/crontab';
import { formOf, isAnacrontab } from '@/core/imports/crontab-form';
import { jobName } from '@/core/imports/job-name';
import { startProduct, tempFolder, until, type Product } from '../helpers';

/** Packages of Debian that bring a crontab of the system along. */
const PACKAGES =
  'cron anacron e2fsprogs php-common mdadm certbot apticron debsecan rsnapshot sympa amavisd-new ntpsec dma man-db popularity-contest greylistd mailman3 backuppc logcheck'.split(
    ' ',
  );
const ACCOUNTS = /^(root|www data|nobody|if|then|test|command|list|mail)$/i;

interface Shipped {
  name: string;
  text: string;
}

/** The crontabs in those packages, as far as they can be had here. */
function fetchShipped(folder: string): Shipped[] {
  const known = spawnSync('apt-cache', ['pkgnames'], { maxBuffer: 100_000_000 })
    .stdout.toString()
    .split('\n');
  const there = PACKAGES.filter((name) => known.includes(name));
  // All at once: to be asked for each by itself, its lists are read for each.
  spawnSync('apt-get', ['download', '-qq', ...there], { cwd: folder, stdio: 'ignore', timeout: 120_000 });
  const shipped: Shipped[] = [];
  for (const deb of readdirSync(folder).filter((name) => name.endsWith('.deb'))) {
    const at = join(folder, `${deb}.d`);
    spawnSync('dpkg-deb', ['-x', deb, at], { cwd: folder, stdio: 'ignore' });
    for (const place of ['etc/cron.d', 'etc/crontab']) {
      const path = join(at, place);
      if (!existsSync(path)) continue;
      const files = statSync(path).isDirectory() ? readdirSync(path).map((name) => join(path, name)) : [path];
      for (const file of files) {
        if (!file.endsWith('.placeholder'))
          shipped.push({ name: `${deb}: ${file.slice(at.length)}`, text: readFileSync(file, 'utf8') });
      }
    }
  }
  return shipped;
}

describe('crontabs that Debian ships', () => {
  const folder = tempFolder();
  let shipped: Shipped[] = [];
  const online = existsSync('/usr/bin/apt-get') && process.getuid?.() === 0;
  beforeAll(() => {
    if (online) shipped = fetchShipped(folder);
    if (shipped.length === 0)
      process.stderr.write('No packages can be had here: their crontabs are left out\n');
  }, 300_000);
  afterAll(() => rmSync(folder, { recursive: true }));

  it.runIf(online)('are taken for what they are, with names that tell and lines that a shell takes', () => {
    const wrong: string[] = [];
    let jobs = 0;
    for (const { name, text } of shipped) {
      const form = formOf(text);
      const crontab = readCrontab(text, 'UTC', 'system', 'debian');
      if (crontab.jobs.length > 0 && form !== 'system') wrong.push(`${name} is taken for ${form}`);
      if (isAnacrontab(text)) wrong.push(`${name} is taken for an anacrontab`);
      for (const job of crontab.jobs) {
        jobs += 1;
        const reboot = /^@reboot/.test(job.before.trim());
        if (job.problem && !reboot) wrong.push(`${name}:${job.line}: ${job.problem}`);
        const called = jobName(job.command);
        if (ACCOUNTS.test(called) || called === 'Job')
          wrong.push(`${name}:${job.line} is called ${called}: ${job.command}`);
        const line = wrappedLine(job, 'https://desk.test/in/x').slice(job.before.length);
        const shell = line.replaceAll('\\%', '%');
        if (spawnSync('/bin/sh', ['-n', '-c', shell]).status !== 0)
          wrong.push(`${name}:${job.line} is no shell line any more`);
        if (!job.problem)
          expect(
            leewayFor({ type: 'cron', expression: job.expression, zone: 'UTC' }, 0, Date.now()),
          ).toBeGreaterThan(0);
      }
    }
    expect(wrong).toEqual([]);
    // Where packages can be had, there are many.
    if (shipped.length > 0)
      expect([shipped.length > 8, jobs > 10], `${shipped.length} with ${jobs}`).toEqual([true, true]);
  });
});

const CRON = '/usr/sbin/cron';
if (!existsSync(CRON)) process.stderr.write('cron is not installed: its test is left out\n');

describe.runIf(existsSync(CRON) && process.getuid?.() === 0)(
  'Debian’s own cron, with the few places it knows',
  () => {
    let product: Product;
    let folder: string;
    let cron: ReturnType<typeof spawn> | null = null;
    const file = '/etc/cron.d/lantern-test';

    beforeAll(async () => {
      product = await startProduct();
      folder = tempFolder();
    });
    afterAll(async () => {
      cron?.kill('SIGTERM');
      rmSync(file, { force: true });
      await product.stop();
      for (const one of [folder, product.folder]) rmSync(one, { recursive: true, force: true });
    });

    it('runs a line that was handed back and hears of it; and runs it as well where the wrapper is not there', async () => {
      const place = join(folder, 'bin');
      mkdirSync(place);
      const wrapper = join(place, 'lantern-run');
      const marks = [join(folder, 'with'), join(folder, 'without')];
      const text = marks.map((mark) => `* * * * * root echo ran > ${mark}`).join('\n') + '\n';
      const wish = { zone: 'UTC', section: 'Office server', form: 'system', cron: 'debian' };
      const made = async (line: number, where: string) => {
        const jobs = [{ line, name: `Job ${line}`, leewaySeconds: 60 }];
        const answer = await product.api('POST', '/job-imports', { ...wish, text, wrapper: where, jobs });
        expect(answer.status).toBe(201);
        return answer.body as { made: { id: number }[]; text: string; fetch: string; trial: string };
      };
      const first = await made(1, wrapper);
      const second = await made(2, join(folder, 'nowhere'));
      expect(first.fetch).toBe(`curl -fsS ${product.base}/lantern-run -o ${wrapper} && chmod +x ${wrapper}`);
      execFileSync('/bin/sh', ['-c', first.fetch]);
      const lines = [first.text.split('\n')[0], second.text.split('\n')[1]];
      writeFileSync(file, `${lines.join('\n')}\n`, { mode: 0o644 });
      const reports = async (id: number) =>
        (await product.api('GET', `/watches/${id}/reports`)).body as unknown as {
          is: string;
          code: number | null;
        }[];
      // What the page offers to try says beforehand what cron will do.
      execFileSync('/bin/sh', ['-c', first.trial]);
      await until(
        async () => (await reports(first.made[0]!.id)).some((one) => one.code === 0),
        'the trial reports',
      );
      rmSync(marks[0]!);
      cron = spawn(CRON, ['-f'], { stdio: 'ignore' });
      await until(() => marks.every((mark) => existsSync(mark)), 'both ran', 75_000);
      await until(
        async () => (await reports(first.made[0]!.id)).filter((one) => one.code === 0).length >= 2,
        'cron’s run reports',
        20_000,
      );
      expect(await reports(second.made[0]!.id)).toEqual([]);
    });
  },
);
