import type { AddressInfo } from 'node:net';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer, type SMTPServerOptions } from 'smtp-server';

export interface CameByMail {
  mail: ParsedMail;
  to: string[];
}

/** A mail server on this machine that notes what it is handed into `came`. */
export async function startMailServer(
  came: CameByMail[],
  options: Partial<SMTPServerOptions> = {},
): Promise<{ server: SMTPServer; port: number }> {
  const server = new SMTPServer({
    authOptional: true,
    closeTimeout: 200,
    disabledCommands: ['STARTTLS'],
    onData: (stream, session, done) => {
      void simpleParser(stream).then((mail) => {
        came.push({ mail, to: session.envelope.rcptTo.map(({ address }) => address) });
        done();
      });
    },
    ...options,
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { server, port: (server.server.address() as AddressInfo).port };
}
