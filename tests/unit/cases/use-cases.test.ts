import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ROUTES } from '@/api/routes';
import { refusalsOf } from '@/api/openapi';
import { REFUSALS, refusalKind, type RefusalCode } from '@/cases/frame/refusals';
import { RIGHTS, type Right } from '@/cases/frame/right';
import type { UseCase } from '@/cases/frame/use-case';
import type { Principal } from '@/cases/frame/principal';
import type { World } from '@/cases/frame/world';

/** Files that hold use cases: those that make one with the frame. */
function caseFiles(folder = 'src/cases'): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'frame' ? [] : caseFiles(path);
    return /= (?:changes|asks|deletes)\(/.test(readFileSync(path, 'utf8')) ? [path] : [];
  });
}

const modules = await Promise.all(
  caseFiles().map(async (path) => {
    const file = join(process.cwd(), path);
    return [path, (await import(/* @vite-ignore */ file)) as Record<string, unknown>] as const;
  }),
);

function isUseCase(value: unknown): value is UseCase<never, unknown> {
  return typeof value === 'function' && 'right' in value && 'id' in value;
}

const cases = modules.flatMap(([, exports]) => Object.values(exports).filter(isUseCase));

function somebody(...rights: Right[]): Principal {
  const account = { id: 1, email: 'ines@ternferry.test' };
  return { type: 'account', account, sessionId: 1, rights: new Set(rights) };
}

describe('what can be done', () => {
  it('is found: every file of use cases, and many of them', () => {
    expect(modules.length).toBeGreaterThan(12);
    expect(cases.length).toBeGreaterThan(70);
  });

  it.each(modules)(
    '%s makes a use case of every line that says so, and calls it as it is known',
    (path, exports) => {
      const text = readFileSync(path, 'utf8');
      const said = [
        ...text.matchAll(/export const (\w+) = (?:changes|asks|deletes)\(\s*'(\w+)',\s*'(\w+)',/g),
      ];
      const made = [...text.matchAll(/= (?:changes|asks|deletes)\(/g)];
      expect(said.length).toBe(made.length);
      for (const [, name, id, right] of said) {
        expect(id).toBe(name);
        expect(RIGHTS).toContain(right);
        expect(isUseCase(exports[name!])).toBe(true);
      }
    },
  );

  it.each(cases.map((one) => [one.id, one] as const))(
    '%s is refused to somebody without the right',
    async (_, one) => {
      const others = RIGHTS.filter((right) => right !== one.right);
      const touched: string[] = [];
      const world = new Proxy({}, { get: (__, name) => touched.push(String(name)) }) as unknown as World;
      const asked = one(somebody(...others), {} as never, world);
      await expect(asked).rejects.toMatchObject({ code: 'right.missing' });
      expect(touched).toEqual([]);
    },
  );

  it('has a name of its own each', () => {
    expect(new Set(cases.map((one) => one.id)).size).toBe(cases.length);
  });

  it('can be done by the API, but for what belongs to a session', () => {
    const bySession = ['changeAccount', 'listSessions', 'endSessions', 'endSession'];
    const others = [
      'getDocument',
      'makeFirstContact',
      'takeByLink',
      'answerInRoom',
      'confirmAddress',
      'tellByItself',
      'renewPassword',
    ];
    // What visitors of a public page do there, with no key but the link in a letter.
    const visitors = ['askToFollow', 'confirmFollowing', 'chooseFollowing', 'endFollowing'];
    // What a browser says of itself, and a mail server of a letter.
    const programs = ['followByPush', 'endPush', 'noteBounce'];
    // A part of what is one call.
    const parts = ['createManyWatches', 'changeSomeOfMany', 'restoreSomeOfMany'];
    const reached = new Set(ROUTES.flatMap((route) => [route.does.id, route.instead?.does.id]));
    const missing = cases.map((one) => one.id).filter((id) => !reached.has(id));
    expect(missing.sort()).toEqual(
      [...bySession, ...others, ...visitors, ...programs, ...parts]
        .filter((id) => missing.includes(id))
        .sort(),
    );
  });
});

describe('routes', () => {
  it('that read change nothing, and those that change something are no GET', () => {
    for (const { method, does, path } of ROUTES) {
      if (method === 'GET') expect(does.changes, path).toBe(false);
      if (method === 'PATCH' || method === 'DELETE') expect(does.changes, path).toBe(true);
    }
  });
});

describe('refusals', () => {
  it('have a status, a title and a sentence each', () => {
    for (const code of Object.keys(REFUSALS) as RefusalCode[]) {
      const { status, title, when } = refusalKind(code);
      expect(code).toMatch(/^[a-z]+\.[a-z-]+$/);
      expect(status).toBeGreaterThanOrEqual(400);
      expect(title).toMatch(/^[A-Z]/);
      expect(when).toMatch(/\.$/);
    }
  });

  it('are each thrown somewhere, or said by the front door', () => {
    const sources = (folder: string): string =>
      readdirSync(folder, { withFileTypes: true })
        .map((entry) => {
          const path = join(folder, entry.name);
          if (entry.isDirectory()) return sources(path);
          return /refusals\.ts$/.test(path) ? '' : readFileSync(path, 'utf8');
        })
        .join('\n');
    const text = sources('src');
    for (const code of Object.keys(REFUSALS)) expect(text, code).toContain(`'${code}'`);
  });

  it('are known of every route', () => {
    for (const route of ROUTES) expect(refusalsOf(route)).toContain('signin.needed');
  });
});
