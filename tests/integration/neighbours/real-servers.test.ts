import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { freePort, ownAccount, until } from '../helpers';
import { came, lookAt } from '../looks/looks';
import { findServer, host, RealServers } from '../real-server';

const postgresBase = '/usr/lib/postgresql';
const postgresVersion = existsSync(postgresBase) ? readdirSync(postgresBase).sort().at(-1) : undefined;
const programs = {
  nginx: findServer('nginx', '/usr/sbin/nginx'),
  PostgreSQL: findServer('PostgreSQL', `${postgresBase}/${postgresVersion}/bin/postgres`),
  MariaDB: findServer('MariaDB', '/usr/sbin/mariadbd'),
  Redis: findServer('Redis', '/usr/bin/redis-server'),
  Mosquitto: findServer('Mosquitto', '/usr/sbin/mosquitto'),
  unbound: findServer('unbound', '/usr/sbin/unbound'),
};

const servers = new RealServers();
const { folder } = servers;
afterAll(() => servers.endAll());

describe('probes meet real servers', () => {
  it.runIf(programs.nginx)('nginx: page, sign-in, redirect, certificate', async () => {
    const [port, secure] = [await freePort(), await freePort()];
    const { authority } = await servers.certificate(['site.ternferry.test']);
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
    await servers.start(
      programs.nginx!,
      ['-c', join(folder, 'nginx.conf'), '-e', join(folder, 'nginx.log')],
      port,
    );
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
    const finding = await lookAt('web', { address: site, authority });
    expect(finding).toMatchObject({
      verdict: 'fine',
      evidence: { certificate: { names: ['site.ternferry.test'] } },
    });
    expect(await came('web', { address: `https://${host}:${secure}/`, authority })).toBe('tls.wrong-name');
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
      const { authority, pair } = await servers.certificate([host]);
      for (const [name, pem] of [
        ['server.crt', pair.cert],
        ['server.key', pair.key],
      ] as const) {
        writeFileSync(join(data, name), pem, { mode: 0o600 });
        if (account.uid !== undefined) execFileSync('chown', ['postgres', join(data, name)]);
      }
      const server = await servers.start(
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
      // Its port takes connections a moment before it takes anybody in.
      await until(async () => (await came('database', settings)) !== 'sign-in.not-ready', 'it is ready');
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
      const trust = { authority };
      const certificate = { host, port, starttls: 'postgresql' };
      expect(await came('certificate', { ...certificate, ...trust })).toBe('fine');
      expect(await came('certificate', certificate)).toBe('tls.untrusted');
      expect(await came('database', { ...settings, tls: true, ...trust })).toBe('fine');
      expect(await came('database', { ...settings, tls: true })).toBe('tls.untrusted');
      expect(await came('database', { ...settings, tls: true, skipVerify: true })).toBe('fine');
      const wrong = { ...settings, tls: true, ...trust, servername: 'other.test' };
      expect(await came('database', wrong)).toBe('tls.wrong-name');
      // Neither a long answer nor a long row is gathered whole.
      const tooLarge = [await failing("SELECT repeat('x', 60000000)")];
      tooLarge.push(await failing('SELECT generate_series(1, 2000000)'));
      for (const finding of tooLarge) expect(finding.cause).toBe('reply.too-large');
      await servers.end(server);
      expect(await came('database', settings)).toBe('port.refused');
    },
  );

  it.runIf(programs.MariaDB)('MariaDB: sign-in and a query that may only read', async () => {
    const port = await freePort();
    const data = join(folder, 'mariadb');
    const user = process.getuid?.() === 0 ? ['--user=root'] : [];
    const { cert, key, authority } = await servers.certificate(['db.ternferry.test']);
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
    await servers.start(
      programs.MariaDB!,
      [
        '--no-defaults',
        ...user,
        `--datadir=${data}`,
        `--port=${port}`,
        `--bind-address=${host}`,
        '--skip-name-resolve',
        `--ssl-cert=${cert}`,
        `--ssl-key=${key}`,
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
    const secure = { ...settings, tls: true, authority, servername: 'db.ternferry.test' };
    expect(await lookAt('database', secure)).toMatchObject({
      verdict: 'fine',
      evidence: { certificate: { names: ['db.ternferry.test'] } },
    });
    expect(await came('database', { ...secure, servername: '' })).toBe('tls.wrong-name');
    expect(await came('database', { ...secure, authority: '' })).toBe('tls.untrusted');
    expect(await came('database', { ...secure, authority: '', skipVerify: true })).toBe('fine');
    const certificate = { host, port, starttls: 'mysql', servername: 'db.ternferry.test' };
    expect(await came('certificate', { ...certificate, authority })).toBe('fine');
    expect(await came('certificate', certificate)).toBe('tls.untrusted');
    expect(await came('database', { ...settings, query: "SELECT REPEAT('x', 9000000)" })).toBe(
      'reply.too-large',
    );
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
    const server = await servers.start(
      programs.Redis!,
      ['--port', String(port), '--bind', host, '--save', '', '--requirepass', 'fog'],
      port,
    );
    const settings = { host, port, password: 'fog' };
    expect(await came('redis', settings)).toBe('fine');
    expect(await came('redis', { ...settings, key: 'seats' })).toBe('value.none');
    expect(await came('redis', { host, port })).toBe('sign-in.refused');
    expect(await came('redis', { host, port, password: 'wrong' })).toBe('sign-in.refused');
    execFileSync('redis-cli', ['-p', String(port), '-a', 'fog', 'SETRANGE', 'manifest', '9000000', 'x'], {
      stdio: 'ignore',
    });
    expect(await came('redis', { ...settings, key: 'manifest' })).toBe('reply.too-large');
    await servers.end(server);
    expect(await came('redis', settings)).toBe('port.refused');
  });

  it.runIf(programs.Mosquitto)('Mosquitto: a kept value, a live one, and silence', async () => {
    const port = await freePort();
    const mqtt = await import('mqtt');
    await servers.start(programs.Mosquitto!, ['-p', String(port)], port);
    const client = await mqtt.connectAsync(`mqtt://${host}:${port}`);
    await client.publishAsync('pier/level', JSON.stringify({ cm: 214, at: Date.now() - 3_600_000 }), {
      retain: true,
    });
    const settings = { host, port, topic: 'pier/level', path: '$.cm', comparison: 'at most', value: '300' };
    expect(await came('broker', settings)).toBe('fine');
    expect(await came('broker', { ...settings, timePath: '$.at', mostAgeSeconds: 7200 })).toBe('fine');
    expect(await came('broker', { ...settings, timePath: '$.at', mostAgeSeconds: 600 })).toBe('value.old');
    expect(await came('broker', { ...settings, topic: 'pier/nobody' }, { timeoutMs: 500 })).toBe(
      'topic.silent',
    );
    await client.publishAsync('pier/film', Buffer.alloc(9_000_000, 'x'), { retain: true });
    expect(await came('broker', { ...settings, topic: 'pier/film' })).toBe('reply.too-large');
    const live = lookAt('broker', { ...settings, topic: 'pier/live' });
    const pulse = setInterval(() => client.publish('pier/live', '{"cm": 20}'), 100);
    expect((await live).verdict).toBe('fine');
    clearInterval(pulse);
    await client.endAsync();
  });

  it.runIf(programs.unbound)('unbound: records, and the ways in which a name server says no', async () => {
    const port = await freePort();
    const file = servers.write(
      'unbound.conf',
      `server:
        interface: ${host}@${port}
        do-daemonize: no
        chroot: ""
        username: ""
        directory: "${folder}"
        pidfile: "${folder}/unbound.pid"
        use-syslog: no
        logfile: "${folder}/unbound.log"
        module-config: "iterator"
        local-zone: "test." nodefault
        local-zone: "ternferry.test." static
        local-data: "ternferry.test. 60 IN A 192.0.2.10"
        local-data: "ternferry.test. 60 IN A 192.0.2.11"
        local-data: "ternferry.test. 60 IN AAAA 2001:db8::10"
        local-data: "ternferry.test. 60 IN MX 10 mail.ternferry.test."
        local-data: 'ternferry.test. 60 IN TXT "v=spf1 mx -all"'
        local-data: '_imaps._tcp.ternferry.test. 60 IN SRV 5 1 993 mail.ternferry.test.'
        local-data: 'ternferry.test. 60 IN CAA 0 issue "ca.example"'
        local-data-ptr: "192.0.2.10 ternferry.test"
        local-zone: "closed.test." refuse
      remote-control:
        control-enable: no
      `,
    );
    await servers.start(programs.unbound!, ['-d', '-c', file], port);
    const ask = (settings: object) =>
      came('name', { name: 'ternferry.test', resolver: `${host}:${port}`, ...settings });
    const records: [string, string][] = [
      ['A', '192.0.2.11\n192.0.2.10'],
      ['AAAA', '2001:db8::10'],
      ['MX', '10 mail.ternferry.test'],
      ['TXT', 'v=spf1 mx -all'],
      ['CAA', '0 issue "ca.example"'],
    ];
    for (const [type, expected] of records)
      expect(await ask({ type, rule: 'equals', expected })).toBe('fine');
    expect(await ask({ name: '_imaps._tcp.ternferry.test', type: 'SRV' })).toBe('fine');
    expect(await ask({ name: '192.0.2.10', type: 'PTR', rule: 'equals', expected: 'ternferry.test' })).toBe(
      'fine',
    );
    expect(await ask({ rule: 'equals', expected: '192.0.2.10' })).toBe('record.differs');
    expect(await ask({ name: 'gone.ternferry.test' })).toBe('name.not-found');
    expect(await ask({ type: 'NS' })).toBe('name.no-record');
    expect(await ask({ name: 'x.closed.test' })).toBe('name.refused');
  });
});
