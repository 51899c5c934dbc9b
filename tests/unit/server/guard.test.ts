import { readdirSync, readFileSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { isOurHost, malformed } from '@/server/access/guard';
import { comesFromHere } from '@/server/access/proxy';

function pagesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? pagesIn(path) : entry.name === 'page.tsx' ? [path] : [];
  });
}

describe('pages of the desk', () => {
  const pages = pagesIn('src/app/(desk)');

  it.each(pages)('%s names the right it needs before it reads anything', (path) => {
    const text = readFileSync(path, 'utf8');
    expect(text).toMatch(
      /export default async function \w+\([\s\S]*?\) \{\n {2}(?:const \{[^}]+\} = )?await requireRight\('(?:look|write|operate|keep)'\);/,
    );
  });

  it('are all found', () => expect(pages.length).toBeGreaterThan(15));
});

describe('what is asked', () => {
  const ask = (method: string, url: string) => malformed({ method, url } as IncomingMessage);

  it('is refused in words where it cannot be read', () => {
    expect(ask('TRACE', '/')).toMatchObject({ status: 501 });
    expect(ask('GET', '/watches/%zz')).toMatchObject({ status: 400 });
    expect(ask('GET', '/watches/%')).toMatchObject({ status: 400 });
    expect(ask('GET', '/watches?x=%')).toBeNull();
    expect(ask('DELETE', '/watches/%41')).toBeNull();
  });

  it('is ours to change under our own name, this machine’s, or a bare address', () => {
    const environment = { baseUrl: 'https://watch.example' };
    const ours = ['watch.example', 'watch.example:443', 'localhost:4780', '127.0.0.1:4780', '[::1]:4780'];
    for (const host of ours) expect(isOurHost(host, environment), host).toBe(true);
    const foreign = [
      'evil.example',
      'watch.example.evil.example',
      '127.0.0.1.evil.example',
      '',
      'a b',
      undefined,
    ];
    for (const host of foreign) expect(isOurHost(host, environment), String(host)).toBe(false);
    expect(isOurHost('anything.example', { baseUrl: null })).toBe(true);
  });

  it('comes from here only without a proxy in between', () => {
    const from = (remoteAddress: string, headers = {}) =>
      comesFromHere({ socket: { remoteAddress }, headers } as unknown as IncomingMessage);
    for (const address of ['127.0.0.1', '::1', '::ffff:127.0.0.1']) expect(from(address)).toBe(true);
    expect(from('192.0.2.7')).toBe(false);
    for (const name of ['x-forwarded-for', 'forwarded', 'via', 'x-real-ip']) {
      expect(from('127.0.0.1', { [name]: 'x' }), name).toBe(false);
    }
  });
});
