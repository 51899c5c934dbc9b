import type { Conversation } from './connection';
import type { Run } from '@/probes/frame/run';

/** Protocols that begin in the clear and go over to TLS when asked. */
export const STARTTLS = ['smtp', 'imap', 'pop3', 'postgresql', 'mysql'] as const;
export type StartTls = (typeof STARTTLS)[number];

const SAID = 200;

/** One reply of an SMTP server, all its lines (RFC 5321, 4.2). */
export async function smtpReply(talk: Conversation): Promise<{ code: number; lines: string[] }> {
  const lines: string[] = [];
  for (;;) {
    const line = await talk.line();
    lines.push(line.slice(0, SAID));
    if (!/^\d{3}-/.test(line) || lines.length > 100) {
      return { code: /^\d{3}( |$)/.test(line) ? Number(line.slice(0, 3)) : 0, lines };
    }
  }
}

/** Reads an SMTP greeting; what does not greet so is told as such. */
export async function smtpGreeting(run: Run, talk: Conversation): Promise<string> {
  const { code, lines } = await smtpReply(talk);
  const said = lines.at(-1) ?? '';
  if (code === 0) run.fail('reply.unexpected', { got: said, service: 'a mail server' });
  if (code !== 220) run.fail('command.refused', { said, command: 'the connection' });
  return said.slice(4);
}

export async function smtpCommand(run: Run, talk: Conversation, command: string, shown = command) {
  talk.send(`${command}\r\n`);
  const reply = await smtpReply(talk);
  if (reply.code >= 200 && reply.code < 400) return reply;
  return run.fail('command.refused', { command: shown, said: reply.lines.at(-1) ?? '' });
}

/** Sends an IMAP command and reads up to its answer (RFC 9051, 2.2). Returns whether it was OK, and what was said. */
export async function imapCommand(
  talk: Conversation,
  tag: string,
  command: string,
): Promise<{ ok: boolean; said: string; untagged: string[] }> {
  talk.send(`${tag} ${command}\r\n`);
  const untagged: string[] = [];
  for (;;) {
    const line = await talk.line();
    if (line.startsWith(`${tag} `)) {
      return { ok: /^\S+ OK/i.test(line), said: line.slice(tag.length + 1, SAID), untagged };
    }
    if (untagged.length < 100) untagged.push(line.slice(0, 1000));
  }
}

export async function imapGreeting(run: Run, talk: Conversation): Promise<string> {
  const line = (await talk.line()).slice(0, SAID);
  if (!/^\* (OK|PREAUTH)/i.test(line)) run.fail('reply.unexpected', { got: line, service: 'an IMAP server' });
  return line.slice(2);
}

const MYSQL = {
  /** Capabilities of the handshake (MySQL client/server protocol, connection phase). */
  LONG_PASSWORD: 0x1,
  PROTOCOL_41: 0x200,
  TLS: 0x800,
  SECURE_CONNECTION: 0x8000,
  UTF8MB4: 45,
  MOST_PACKET: 0x1000000,
};

/** Greets a MySQL or MariaDB server and asks for TLS; returns its version. */
async function askMysqlForTls(run: Run, talk: Conversation): Promise<string> {
  const length = (await talk.bytes(4)).readUIntLE(0, 3);
  if (length < 20 || length > 4096) {
    run.fail('reply.unexpected', { got: `a first packet of ${length} bytes`, service: 'a MySQL server' });
  }
  const greeting = await talk.bytes(length);
  const end = greeting.indexOf(0, 1);
  const version = greeting.subarray(1, end).toString('latin1').slice(0, SAID);
  if (greeting[0] === 0xff) {
    run.fail('command.refused', { command: 'the connection', said: greeting.subarray(3).toString('utf8') });
  }
  // After the version: thread id (4), salt (8), a filler, then the lower half of its capabilities.
  const capabilities = end < 0 || end + 16 > length ? 0 : greeting.readUInt16LE(end + 14);
  if (greeting[0] !== 10) run.fail('reply.unexpected', { got: version, service: 'a MySQL server' });
  if ((capabilities & MYSQL.TLS) === 0) run.fail('tls.not-offered', { port: run.target.port });
  const request = Buffer.alloc(36);
  request.writeUIntLE(32, 0, 3);
  request.writeUInt8(1, 3);
  request.writeUInt32LE(MYSQL.LONG_PASSWORD | MYSQL.PROTOCOL_41 | MYSQL.TLS | MYSQL.SECURE_CONNECTION, 4);
  request.writeUInt32LE(MYSQL.MOST_PACKET, 8);
  request.writeUInt8(MYSQL.UTF8MB4, 12);
  talk.send(request);
  return version;
}

/** Asks a server to go over to TLS; afterwards the socket is ready for the handshake. Returns its greeting. */
export async function askForTls(run: Run, talk: Conversation, protocol: StartTls): Promise<string> {
  const { port } = run.target;
  switch (protocol) {
    case 'smtp': {
      const greeting = await smtpGreeting(run, talk);
      const hello = await smtpCommand(run, talk, 'EHLO calm-lantern.invalid', 'EHLO');
      if (!hello.lines.some((line) => /^250[ -]STARTTLS/i.test(line))) run.fail('tls.not-offered', { port });
      await smtpCommand(run, talk, 'STARTTLS');
      return greeting;
    }
    case 'imap': {
      const greeting = await imapGreeting(run, talk);
      if (!(await imapCommand(talk, 'a1', 'STARTTLS')).ok) run.fail('tls.not-offered', { port });
      return greeting;
    }
    case 'pop3': {
      const greeting = (await talk.line()).slice(0, SAID);
      if (!greeting.startsWith('+OK'))
        run.fail('reply.unexpected', { got: greeting, service: 'a POP3 server' });
      talk.send('STLS\r\n');
      if (!(await talk.line()).startsWith('+OK')) run.fail('tls.not-offered', { port });
      return greeting.slice(4);
    }
    case 'mysql':
      return askMysqlForTls(run, talk);
    case 'postgresql': {
      // SSLRequest: length 8, code 80877103 (PostgreSQL protocol, message formats).
      talk.send(Buffer.from([0, 0, 0, 8, 4, 210, 22, 47]));
      const answer = (await talk.bytes(1)).toString('latin1');
      if (answer === 'S') return '';
      if (answer === 'N') run.fail('tls.not-offered', { port });
      return run.fail('reply.unexpected', { got: answer, service: 'a PostgreSQL server' });
    }
  }
}
