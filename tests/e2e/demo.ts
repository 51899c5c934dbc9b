import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { EMAIL, freePort, PASSWORD, ROOT, tempFolder, until } from '../integration/helpers';

export interface Demo {
  base: string;
  harbour: string;
  token: string;
  output: () => string;
  process: ChildProcess;
  folder: string;
  bookingId: number;
}

/** Runs `npm run demo` as a person would, and reads from what it prints where to go. */
async function startDemo(): Promise<Omit<Demo, 'bookingId'>> {
  const folder = tempFolder();
  // The practice harbour takes the ports behind its own.
  const harbourPort = await freePort(60);
  const process_ = spawn(process.execPath, [join(ROOT, 'scripts/demo.mjs')], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: {
      ...process.env,
      PORT: String(await freePort()),
      STANDIN_PORT: String(harbourPort),
      LANTERN_DATA: folder,
    },
  });
  let text = '';
  process_.stdout.on('data', (chunk: Buffer) => (text += chunk.toString()));
  process_.stderr.on('data', (chunk: Buffer) => (text += chunk.toString()));
  await until(
    () => {
      if (process_.exitCode !== null) throw new Error(`The demo ended:\n${text}`);
      return text.includes('Ctrl-C stops everything');
    },
    'the demo says where to go',
    110_000,
  );
  const said = (label: string) => new RegExp(`${label} +(\\S+)`).exec(text)![1]!;
  return {
    base: said('Calm Lantern'),
    harbour: said('practice harbour'),
    token: said('API token'),
    output: () => text,
    process: process_,
    folder,
  };
}

export async function signIn(
  browser: Browser,
  base: string,
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<Page> {
  const context = await browser.newContext(options);
  const page = await context.newPage();
  await page.goto(`${base}/sign-in`);
  await page.getByLabel('E-mail address').fill(EMAIL);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL(`${base}/`);
  return page;
}

const desks = new Map<string, BrowserContext>();

/** A tab at the desk beside those that were open before, of whoever signed in with the first: to be closed by itself. */
export async function deskOf(browser: Browser, base: string): Promise<Page> {
  const known = desks.get(base);
  if (known) return known.newPage();
  const page = await signIn(browser, base);
  desks.set(base, page.context());
  return page;
}

/** Runs the demo for the tests of one file, and ends it as a person would. */
export function withDemo(onStarted: (demo: Demo) => void): void {
  let demo: Omit<Demo, 'bookingId'> | undefined;

  test.beforeAll(async () => {
    test.setTimeout(180_000);
    demo = await startDemo();
    const answer = await fetch(`${demo.base}/api/v1/watches`, {
      headers: { authorization: `Bearer ${demo.token}` },
    });
    const watches = (await answer.json()) as { id: number; name: string }[];
    expect(watches).toHaveLength(18);
    onStarted({ ...demo, bookingId: watches.find((watch) => watch.name === 'Booking site')!.id });
  });

  test.afterAll(async () => {
    if (!demo) return;
    const { process: child, harbour, folder } = demo;
    child.kill('SIGINT');
    await until(() => child.exitCode !== null || child.signalCode !== null, 'the demo ends');
    expect(child.exitCode).toBe(0);
    const isClosed = () =>
      fetch(harbour).then(
        () => false,
        () => true,
      );
    await until(isClosed, 'the harbour is closed');
    rmSync(folder, { recursive: true, force: true });
  });
}
