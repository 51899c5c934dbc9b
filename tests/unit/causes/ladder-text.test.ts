import { describe, expect, it } from 'vitest';
import type { Rung, RungName } from '@/core/causes/finding';
import { troubleAdvice, troubleSentence } from '@/core/causes/ladder-text';

const LABELS: Partial<Record<RungName, string>> = { port: 'port 443' };
const rung = (name: RungName, result: Rung['result']): Rung => ({
  rung: name,
  label: LABELS[name] ?? name,
  result,
});
const walk = (...steps: [RungName, Rung['result']][]) => steps.map(([name, result]) => rung(name, result));

describe('one sentence from the layers', () => {
  it.each([
    [
      'the cause alone where nothing was walked',
      'port.refused',
      {},
      walk(),
      /^The host is there, but nothing listens/,
    ],
    [
      'a journey’s step',
      'reply.status',
      { status: 500, step: 'Pay' },
      walk(['port', 'fine']),
      /^Pay: The server answers/,
    ],
    [
      'our own fault',
      'look.no-line',
      {},
      walk(['port', 'fine'], ['host', 'failed']),
      /^(?!.*ping)(?!.*is open)/,
    ],
    ['a check-in', 'checkin.missed', {}, walk(['host', 'failed']), /^(?!.*ping)/],
    ['parts', 'parts.down', {}, walk(['host', 'failed']), /^(?!.*ping)/],
  ] as const)('%s', (_, cause, detail, steps, said) => {
    expect(troubleSentence(cause, detail as never, steps)).toMatch(said);
  });

  it('adds that the host is silent, where nothing else tells that it lives', () => {
    const said = troubleSentence(
      'port.timeout',
      { port: 443, limit: '10 s' },
      walk(['name', 'fine'], ['host', 'failed'], ['port', 'failed']),
    );
    expect(said).toMatch(/[^.], and the host does not answer ping\.$/);
    const open = troubleSentence(
      'reply.status',
      { status: 503 },
      walk(['host', 'failed'], ['port', 'fine'], ['reply', 'failed']),
    );
    expect(open).toBe('Port 443 is open; the server answers, but replies 503.');
    const own = troubleSentence('host.silent', {}, walk(['host', 'failed']));
    expect(own).not.toContain('ping, and');
    expect(own).not.toMatch(/and the host does not answer ping\.$/);
  });

  it('names what still holds, from below to what broke', () => {
    const steps = walk(
      ['name', 'fine'],
      ['host', 'fine'],
      ['port', 'fine'],
      ['certificate', 'failed'],
      ['reply', 'unknown'],
    );
    expect(troubleSentence('tls.expired', { ago: '2 h' }, steps)).toMatch(
      /^The host answers ping and port 443 is open, but the certificate /,
    );
  });

  it('names nothing above what broke, and leaves a known name out once more is known', () => {
    const steps = walk(['name', 'fine'], ['port', 'failed'], ['reply', 'fine']);
    const said = troubleSentence('port.timeout', { port: 443, limit: '10 s' }, steps);
    expect(said).toMatch(/^The name is known, but /);
    expect(said).not.toContain('it replies');
    expect(
      troubleSentence(
        'text.missing',
        { words: 'Tern' },
        walk(
          ['name', 'fine'],
          ['port', 'fine'],
          ['certificate', 'fine'],
          ['reply', 'fine'],
          ['content', 'failed'],
        ),
      ),
    ).toMatch(/^Port 443 is open, the certificate holds and it replies, but /);
  });

  it('tells everything that holds where no rung of the walk broke', () => {
    expect(
      troubleSentence('text.missing', { words: 'Tern' }, walk(['host', 'fine'], ['port', 'fine'])),
    ).toMatch(/^The host answers ping and port 443 is open, but /);
  });

  it('does not say twice that the host is there', () => {
    const said = troubleSentence(
      'port.refused',
      { port: 443 },
      walk(['name', 'fine'], ['host', 'fine'], ['port', 'failed']),
    );
    expect(said).not.toContain('answers ping');
  });

  it('leaves names and quoted words their capitals', () => {
    const said = troubleSentence(
      'value.differs',
      { what: 'Theatre', got: '“1”', expected: '“2”' },
      walk(['port', 'fine'], ['content', 'failed']),
    );
    expect(said).toMatch(/^Port 443 is open, but Theatre /);
  });
});

describe('advice from the layers', () => {
  it.each([
    [
      'the host is silent',
      'port.timeout',
      walk(['host', 'failed'], ['port', 'failed']),
      /^Look first whether the host is on/,
    ],
    [
      'the host is silent, and no port was tried',
      'port.timeout',
      walk(['host', 'failed']),
      /^Look first whether the host is on/,
    ],
    [
      'the port is open all the same',
      'reply.status',
      walk(['host', 'failed'], ['port', 'fine']),
      /^It says itself/,
    ],
    [
      'the host lives, its port is silent',
      'port.timeout',
      walk(['host', 'fine'], ['port', 'failed']),
      /firewall, and at the service itself/,
    ],
    [
      'the host lives, its port refuses',
      'port.refused',
      walk(['host', 'fine'], ['port', 'failed']),
      /^(?!The host is on)/,
    ],
    ['nothing is known of the host', 'port.timeout', walk(['port', 'failed']), /^(?!The host is on)/],
    ['nothing was walked', 'reply.status', walk(), /^It says itself/],
  ] as const)('%s', (_, cause, steps, said) => {
    expect(troubleAdvice(cause, steps, { status: 503 })).toMatch(said);
  });
});
