import { describe, expect, it } from 'vitest';
import { linkBase, readEnvironment } from '@/core/settings/environment';

describe('the environment', () => {
  it('asks for nothing', () => {
    expect(readEnvironment({ TZ: 'Europe/Lisbon' })).toEqual({
      port: 4780,
      host: '127.0.0.1',
      dataFolder: 'data',
      baseUrl: null,
      adminEmail: null,
      adminPassword: null,
      apiToken: null,
      trustedProxies: [],
      zone: 'Europe/Lisbon',
      hosts: '',
      looksAtOnce: 64,
      looksPerHost: 4,
      lookThreads: null,
      keepFindingsDays: 14,
      deskMemory: 768,
      nearPushes: false,
      scripts: null,
      copies: null,
    });
    expect(readEnvironment({}).zone).toBe(Intl.DateTimeFormat().resolvedOptions().timeZone);
  });

  it('says all of it', () => {
    expect(
      readEnvironment({
        PORT: '80',
        HOST: '::1',
        LANTERN_DATA: '/srv/lantern',
        LANTERN_BASE_URL: 'https://watch.ternferry.test/desk//',
        LANTERN_ADMIN_EMAIL: 'ines@ternferry.test',
        LANTERN_ADMIN_PASSWORD: 'the boats sail at dawn',
        LANTERN_API_TOKEN: 'a token',
        LANTERN_TRUSTED_PROXY: ' 10.0.0.0/8, ,127.0.0.1 ',
        LANTERN_ZONE: 'Atlantic/Azores',
        TZ: 'UTC',
        LANTERN_HOSTS: 'site.ternferry.test=127.0.0.1',
        LANTERN_LOOKS_AT_ONCE: '1000',
        LANTERN_LOOKS_PER_HOST: '1',
        LANTERN_LOOK_THREADS: '16',
        LANTERN_KEEP_FINDINGS_DAYS: '3650',
        LANTERN_DESK_MEMORY: '2048',
        LANTERN_SCRIPTS: '/srv/scripts',
        LANTERN_COPIES: '/srv/copies',
        LANTERN_NEAR_PUSHES: 'yes',
      }),
    ).toEqual({
      port: 80,
      host: '::1',
      dataFolder: '/srv/lantern',
      baseUrl: 'https://watch.ternferry.test/desk',
      adminEmail: 'ines@ternferry.test',
      adminPassword: 'the boats sail at dawn',
      apiToken: 'a token',
      trustedProxies: ['10.0.0.0/8', '127.0.0.1'],
      zone: 'Atlantic/Azores',
      hosts: 'site.ternferry.test=127.0.0.1',
      looksAtOnce: 1000,
      looksPerHost: 1,
      lookThreads: 16,
      keepFindingsDays: 3650,
      deskMemory: 2048,
      nearPushes: true,
      scripts: '/srv/scripts',
      copies: '/srv/copies',
    });
  });

  it('takes what is set but empty for not set', () => {
    expect(
      readEnvironment({ PORT: '', HOST: '', LANTERN_BASE_URL: '', LANTERN_LOOK_THREADS: '' }),
    ).toMatchObject({
      port: 4780,
      host: '127.0.0.1',
      baseUrl: null,
      lookThreads: null,
    });
  });

  it.each([
    ['PORT', '65536', 'Expected PORT to be a whole number from 0 to 65535, got "65536".'],
    ['PORT', '-1', 'Expected PORT to be a whole number from 0 to 65535, got "-1".'],
    ['PORT', '47.5', 'Expected PORT to be a whole number from 0 to 65535, got "47.5".'],
    ['PORT', 'http', 'Expected PORT to be a whole number from 0 to 65535, got "http".'],
    ['LANTERN_LOOKS_AT_ONCE', '0', 'a whole number from 1 to 1000, got "0".'],
    ['LANTERN_LOOKS_AT_ONCE', '1001', 'a whole number from 1 to 1000, got "1001".'],
    ['LANTERN_LOOKS_PER_HOST', '1001', 'a whole number from 1 to 1000, got "1001".'],
    [
      'LANTERN_LOOK_THREADS',
      '17',
      'Expected LANTERN_LOOK_THREADS to be a whole number from 0 to 16, got "17".',
    ],
    ['LANTERN_DESK_MEMORY', '255', 'a whole number from 256 to 65536, got "255".'],
    ['LANTERN_KEEP_FINDINGS_DAYS', '0', 'a whole number from 1 to 3650, got "0".'],
    [
      'LANTERN_BASE_URL',
      'watch.ternferry.test',
      'Expected LANTERN_BASE_URL to be an address such as https://watch.example, got "watch.ternferry.test".',
    ],
    ['LANTERN_BASE_URL', 'ftp://watch.ternferry.test', 'got "ftp://watch.ternferry.test".'],
  ])('refuses %s=%s', (name, value, why) => {
    expect(() => readEnvironment({ [name]: value })).toThrow(why);
  });

  it('takes the ends of what is allowed', () => {
    expect(readEnvironment({ PORT: '0', LANTERN_LOOK_THREADS: '0' })).toMatchObject({
      port: 0,
      lookThreads: 0,
    });
    expect(readEnvironment({ PORT: '65535' }).port).toBe(65535);
  });

  it.each([
    [{ LANTERN_BASE_URL: 'http://watch.ternferry.test/' }, 'http://watch.ternferry.test'],
    [{}, 'http://127.0.0.1:4780'],
    [{ HOST: '0.0.0.0', PORT: '81' }, 'http://localhost:81'],
    [{ HOST: '::' }, 'http://localhost:4780'],
    [{ HOST: 'fd00::7' }, 'http://[fd00::7]:4780'],
    [{ HOST: 'desk.ternferry.test' }, 'http://desk.ternferry.test:4780'],
  ])('%o begins links with %s', (source, base) => expect(linkBase(readEnvironment(source))).toBe(base));
});
