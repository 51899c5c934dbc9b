import { describe, expect, it } from 'vitest';
import { secretsOfElsewhere, toldSettings, withoutKept } from '@/channels/frame/told-settings';
import { channelKind, channelKinds } from '@/channels/kinds/registry';

const webhook = channelKind('webhook')!;
const mail = channelKind('mail')!;
const before = {
  host: 'mail.ternferry.test',
  user: 'lantern',
  password: 'the boats sail',
  to: 'office@ternferry.test',
};

describe('settings of a channel', () => {
  it('leave with their open texts, and of keys only that there are some', () => {
    expect(toldSettings(mail, { ...before, port: 587 })).toEqual({
      ...before,
      port: 587,
      password: { kept: true },
    });
    const hook = {
      address: 'https://chat.ternferry.test/hooks/crew',
      user: '',
      password: '',
      name: 'Lantern',
    };
    expect(toldSettings(webhook, hook)).toEqual({ ...hook, address: { kept: true } });
  });

  it('tell nothing that no field describes', () => {
    const push = { endpoint: 'https://push.ternferry.test/1', p256dh: 'B', auth: 'x' };
    expect(toldSettings(channelKind('push')!, push)).toEqual({
      endpoint: { kept: true },
      p256dh: { kept: true },
      auth: { kept: true },
    });
  });

  it.each(channelKinds().map((kind) => [kind.id, kind] as const))(
    'of the kind %s: what its help calls a secret is one',
    (_, kind) => {
      const secret = kind.fields.filter(({ help }) => /kept secret/i.test(help)).map(({ name }) => name);
      const told = toldSettings(kind, Object.fromEntries(kind.fields.map(({ name }) => [name, 'x'])));
      for (const name of secret) expect(told[name]).toEqual({ kept: true });
    },
  );

  it('come back without what stays', () => {
    expect(withoutKept({ a: { kept: true }, b: 'x', c: '', d: { kept: false }, e: null })).toEqual({
      b: 'x',
      c: '',
      d: { kept: false },
      e: null,
    });
  });

  it.each([
    [{ to: 'crew@ternferry.test' }, []],
    [{ host: 'mail.ternferry.test' }, []],
    [{ host: 'mail.example' }, ['password']],
    [{ host: 'mail.example', password: '' }, []],
    [{ host: 'mail.example', password: 'another' }, []],
  ])('%j: secrets given for elsewhere are %j', (change, secrets) => {
    expect(secretsOfElsewhere(mail, before, change)).toEqual(secrets);
  });

  it('ask for nothing where no secret is kept', () => {
    expect(secretsOfElsewhere(mail, { ...before, password: '' }, { host: 'mail.example' })).toEqual([]);
  });
});
