import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import Database from 'better-sqlite3';

/**
 * The bare things, each in a process of its own: "checkins FILE" inserts each request's run, grouped by what
 * gathered since the last commit; "page" sends the bytes it was given on standard input; "site" says ok at every
 * address of loopback; "hanging" takes connections there and never answers.
 */
const [what, file] = process.argv.slice(2);

function checkins(path: string) {
  const db = new Database(path);
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  db.exec('CREATE TABLE reports (id INTEGER PRIMARY KEY, at INTEGER, run TEXT)');
  const insert = db.prepare('INSERT INTO reports (at, run) VALUES (?, ?)');
  let waiting: { run: string; done: () => void }[] = [];
  const commit = () => {
    const batch = waiting;
    waiting = [];
    db.transaction(() => {
      for (const { run } of batch) insert.run(Date.now(), run);
    })();
    for (const { done } of batch) done();
  };
  return createServer((request, response) => {
    if (waiting.length === 0) setImmediate(commit);
    waiting.push({ run: request.url ?? '', done: () => response.end('ok\n') });
  });
}

async function page() {
  const chunks: Buffer[] = [];
  for await (const chunk of process.stdin) chunks.push(chunk as Buffer);
  const bytes = Buffer.concat(chunks);
  return createServer((_, response) => {
    response.writeHead(200, { 'content-type': 'text/html; charset=utf-8', 'content-length': bytes.length });
    response.end(bytes);
  });
}

const server =
  what === 'checkins'
    ? checkins(file!)
    : what === 'page'
      ? await page()
      : what === 'hanging'
        ? createServer(() => undefined)
        : createServer((_, response) => response.end('ok'));
const everywhere = what === 'site' || what === 'hanging';
server.listen(0, everywhere ? '0.0.0.0' : '127.0.0.1', () =>
  process.stdout.write(`${(server.address() as AddressInfo).port}\n`),
);
