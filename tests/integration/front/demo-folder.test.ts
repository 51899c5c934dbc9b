import { execFile } from 'node:child_process';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, it } from 'vitest';
import { ROOT, tempFolder } from '../helpers';

it('the demo fills no folder that has data of its own', async () => {
  const folder = tempFolder();
  const database = join(folder, 'lantern.db');
  writeFileSync(database, 'of a desk that is in use');
  const ended = await promisify(execFile)(process.execPath, [join(ROOT, 'scripts/demo.mjs')], {
    cwd: ROOT,
    env: { ...process.env, LANTERN_DATA: folder },
  }).catch((error: { code: number; stderr: string }) => error);
  expect(ended).toMatchObject({ code: 1 });
  expect(ended.stderr).toContain(`${folder} has data of its own. It was left as it is.`);
  expect(readdirSync(folder)).toEqual(['lantern.db']);
  expect(readFileSync(database, 'utf8')).toBe('of a desk that is in use');
  rmSync(folder, { recursive: true });
});
