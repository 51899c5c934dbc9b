import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { issueCertificate, makeAuthority } from '../../src/standins/certificates';
import { freePort, ownAccount, tempFolder, until } from './helpers';
import { came, lookAt } from './looks';

/** Where Debian puts a server, or null where it is not installed; then its test says so and is left out. */
function find(...places: string[]): string | null {
  return places.find((place) => existsSync(place)) ?? null;
}

const postgres = (() => {
  const base = '/usr/lib/postgresql';
  const version = existsSync(base) ? readdirSync(base).sort().at(-1) : undefined;
  return find(`${base}/${version}/bin/postgres`);
})();
const programs = {
  nginx: find('/usr/sbin/nginx'),
  PostgreSQL: postgres,
  MariaDB: find('/usr/sbin/mariadbd'),
  Redis: find('/usr/bin/redis-server'),
  Mosquitto: find('/usr/sbin/mosquitto'),
};
for (const [name, place] of Object.entries(programs)) {
  if (place === null) process.stderr.write(`${name} is not installed: its test is left out\n`);
}

const host = '127.0.0.1';
const folder = tempFolder();
chmodSync(folder, 0o755);
const running: ChildProcess[] = [];

async function start(
  program: string,
  args: string[],
  port: number,
  options: { uid?: number; gid?: number } = {},
) {
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'pipe'], cwd: '/', ...options });
  let said = '';
  child.stderr!.on('data', (chunk: Buffer) => (said += chunk.toString()));
  running.push(child);
  await until(() => {
    if (child.exitCode !== null) throw new Error(`${program} ended with ${child.exitCode}:\n${said}`);
    return new Promise<boolean>((resolve) => {
      const socket = connect(port, host, () => {
        socket.destroy();
        resolve(true);
      });
      socket.on('error', () => resolve(false));
    });
  }, `${program} on ${port}`);
  return child;
}

async function end(child: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await ended;
}

afterAll(async () => {
  for (const child of running) if (child.exitCode === null && child.signalCode === null) await end(child);
  rmSync(folder, { recursive: true, force: true });
});

describe('probes meet real servers', () => {
  it.runIf(programs.nginx)('nginx: page, sign-in, redirect, certificate', async () => {
    const [port, secure] = [await freePort(), await freePort()];
    const authority = await makeAuthority();
    const pair = await issueCertificate(authority, { names: ['site.ternferry.test'] });
    writeFileSync(join(folder, 'cert.pem'), pair.cert);
    writeFileSync(join(folder, 'key.pem'), pair.key);
    writeFileSync(join(folder, 'accounts'), `ines:{PLAIN}fog\n`);
    writeFileSync(
      join(folder, 'nginx.conf'),
      `daemon off; pid ${folder}/nginx.pid; error_log ${folder}/nginx.log; events {}
      http { access_log off; client_body_temp_path ${folder}/b; proxy_temp_path ${folder}/p; fastcgi_temp_path ${folder}/f; uwsgi_temp_path ${folder}/u; scgi_temp_path ${folder}/s;
        server { listen ${host}:${port}; listen ${host}:${secure} ssl; ssl_certificate ${folder}/cert.pem; ssl_certificate_key ${folder}/key.pem;
          location = / { default_type text/html; return 200 "Choose your crossing"; }
          location = /data { default_type application/json; return 200 '{"free": 7}'; }
          location = /office { auth_basic "office"; auth_basic_user_file ${folder}/accounts; root ${folder}; }
          location = /old { return 301 /; } } }`,
    );
    await start(programs.nginx!, ['-c', join(folder, 'nginx.conf'), '-e', join(folder, 'nginx.log')], port);
    const address = `http://${host}:${port}`;
    const web = (path: string, settings: object = {}) =>
      came('web', { address: address + path, ...settings });
    expect(await web('/', { words: 'Choose your crossing', method: 'GET' })).toBe('fine');
    expect(await web('/old', { words: 'Choose' })).toBe('fine');
    expect(await web('/old', { redirects: 'refuse' })).toBe('reply.redirected');
    expect(await web('/gone')).toBe('reply.status');
    expect(await web('/data', { jsonTests: [{ what: '$.free', comparison: 'at least', value: '5' }] })).toBe(
      'fine',
    );
    expect(await web('/office')).toBe('reply.status');
    expect(await web('/office', { user: 'ines', password: 'fog', accepted: '404' })).toBe('fine');
    const site = `https://site.ternferry.test:${secure}/`;
    const finding = await lookAt('web', { address: site, authority: authority.pem });
    expect(finding).toMatchObject({
      verdict: 'fine',
      evidence: { certificate: { names: ['site.ternferry.test'] } },
    });
    expect(await came('web', { address: `https://${host}:${secure}/`, authority: authority.pem })).toBe(
      'tls.wrong-name',
    );
  });

  it.runIf(programs.PostgreSQL)(
    'PostgreSQL: sign-in, one query that may only read, and no more',
    async () => {
      const port = await freePort();
      const data = join(folder, 'postgres');
      const account = ownAccount('postgres');
      mkdirSync(data);
      if (account.uid !== undefined) execFileSync('chown', ['postgres', data]);
      writeFileSync(join(folder, 'pw'), 'the boats sail at dawn', { mode: 0o644 });
      const bin = programs.PostgreSQL!.replace(/postgres$/, '');
      execFileSync(
        `${bin}initdb`,
        ['-D', data, '-U', 'office', '-A', 'scram-sha-256', `--pwfile=${folder}/pw`],
        {
          stdio: 'ignore',
          cwd: '/',
          ...account,
        },
      );
      const authority = await makeAuthority();
      const pair = await issueCertificate(authority, { names: [host] });
      for (const [name, pem] of [
        ['server.crt', pair.cert],
        ['server.key', pair.key],
      ] as const) {
        writeFileSync(join(data, name), pem, { mode: 0o600 });
        if (account.uid !== undefined) execFileSync('chown', ['postgres', join(data, name)]);
      }
      const server = await start(
        programs.PostgreSQL!,
        ['-D', data, '-p', String(port), '-k', data, '-h', host, '-c', 'ssl=on'],
        port,
        account,
      );
      const settings = {
        host,
        port,
        user: 'office',
        password: 'the boats sail at dawn',
        query: 'SELECT 6 * 7 AS seats',
        comparison: 'is',
        value: '42',
      };
      expect(await came('database', settings)).toBe('fine');
      expect(await lookAt('database', { ...settings, value: '41' })).toMatchObject({
        cause: 'value.differs',
        detail: { got: '42' },
      });
      expect(await came('database', { ...settings, password: 'wrong' })).toBe('sign-in.refused');
      expect(await came('database', { ...settings, database: 'nowhere' })).toBe('sign-in.refused');
      const failing = (query: string) => lookAt('database', { ...settings, query });
      expect(await failing('SELECT * FROM nowhere')).toMatchObject({ cause: 'command.refused' });
      expect(await failing('CREATE TABLE t (a int)')).toMatchObject({
        cause: 'command.refused',
        detail: { said: expect.stringContaining('read-only') as string },
      });
      expect(await failing('SELECT 1; COMMIT; CREATE TABLE t (a int)')).toMatchObject({
        cause: 'command.refused',
      });
      expect(
        await came('database', { ...settings, query: 'SELECT pg_sleep(30)' }, { timeoutMs: 700 }),
      ).toMatch(/^(reply\.timeout|command\.refused)$/);
      const trust = { authority: authority.pem };
      const certificate = { host, port, starttls: 'postgresql' };
      expect(await came('certificate', { ...certificate, ...trust })).toBe('fine');
      expect(await came('certificate', certificate)).toBe('tls.untrusted');
      expect(await came('database', { ...settings, tls: true, ...trust })).toBe('fine');
      expect(await came('database', { ...settings, tls: true })).toBe('tls.untrusted');
      expect(await came('database', { ...settings, tls: true, skipVerify: true })).toBe('fine');
      const wrong = { ...settings, tls: true, ...trust, servername: 'other.test' };
      expect(await came('database', wrong)).toMatch(/^tls\./);
      await end(server);
      expect(await came('database', settings)).toBe('port.refused');
    },
  );

  it.runIf(programs.MariaDB)('MariaDB: sign-in and a query that may only read', async () => {
    const port = await freePort();
    const data = join(folder, 'mariadb');
    const user = process.getuid?.() === 0 ? ['--user=root'] : [];
    execFileSync(
      'mariadb-install-db',
      ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=normal', ...user],
      { stdio: 'ignore' },
    );
    const init = join(folder, 'init.sql');
    writeFileSync(
      init,
      `CREATE USER 'office'@'%' IDENTIFIED BY 'fog';\nCREATE DATABASE ferry;\nCREATE TABLE ferry.waiting (n INT);\nINSERT INTO ferry.waiting VALUES (1),(2),(3);\nGRANT ALL ON ferry.* TO 'office'@'%';\n`,
    );
    await start(
      programs.MariaDB!,
      [
        '--no-defaults',
        ...user,
        `--datadir=${data}`,
        `--port=${port}`,
        `--bind-address=${host}`,
        '--skip-name-resolve',
        `--socket=${data}/s`,
        `--init-file=${init}`,
      ],
      port,
    );
    const settings = {
      service: 'mysql',
      host,
      port,
      user: 'office',
      password: 'fog',
      database: 'ferry',
      query: 'SELECT count(*) FROM waiting',
      comparison: 'at most',
      value: '5',
    };
    expect(await came('database', settings)).toBe('fine');
    expect(await came('database', { ...settings, comparison: 'at least' })).toBe('value.differs');
    expect(await came('database', { ...settings, password: 'wrong' })).toBe('sign-in.refused');
    expect(await lookAt('database', { ...settings, query: 'DELETE FROM waiting' })).toMatchObject({
      cause: 'command.refused',
    });
    expect(await came('database', settings)).toBe('fine');
    const reading = await lookAt('reading', {
      ...settings,
      source: 'database',
      what: 'The queue',
      failHigh: 2,
    });
    expect(reading).toMatchObject({ cause: 'value.high', evidence: { reading: { value: 3, unit: '' } } });
  });

  it.runIf(programs.Redis)('Redis: PING, password and a key', async () => {
    const port = await freePort();
    const server = await start(
      programs.Redis!,
      ['--port', String(port), '--bind', host, '--save', '', '--requirepass', 'fog'],
      port,
    );
    const settings = { host, port, password: 'fog' };
    expect(await came('redis', settings)).toBe('fine');
    expect(await came('redis', { ...settings, key: 'seats' })).toBe('value.none');
    expect(await came('redis', { host, port })).toBe('sign-in.refused');
    expect(await came('redis', { host, port, password: 'wrong' })).toBe('sign-in.refused');
    await end(server);
    expect(await came('redis', settings)).toBe('port.refused');
  });

  it.runIf(programs.Mosquitto)('Mosquitto: a kept value, a live one, and silence', async () => {
    const port = await freePort();
    const mqtt = await import('mqtt');
    await start(programs.Mosquitto!, ['-p', String(port)], port);
    const client = await mqtt.connectAsync(`mqtt://${host}:${port}`);
    await client.publishAsync('pier/level', JSON.stringify({ cm: 214, at: Date.now() - 3_600_000 }), {
      retain: true,
    });
    const settings = { host, port, topic: 'pier/level', path: '$.cm', comparison: 'at most', value: '300' };
    expect(await came('broker', settings)).toBe('fine');
    expect(await came('broker', { ...settings, timePath: '$.at', mostAge: 7200 })).toBe('fine');
    expect(await came('broker', { ...settings, timePath: '$.at', mostAge: 600 })).toBe('value.old');
    expect(await came('broker', { ...settings, topic: 'pier/nobody' }, { timeoutMs: 500 })).toBe(
      'topic.silent',
    );
    const live = lookAt('broker', { ...settings, topic: 'pier/live' });
    const pulse = setInterval(() => client.publish('pier/live', '{"cm": 20}'), 100);
    expect((await live).verdict).toBe('fine');
    clearInterval(pulse);
    await client.endAsync();
  });
});
