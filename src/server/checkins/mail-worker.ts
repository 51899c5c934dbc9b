import { parentPort } from 'node:worker_threads';
import { simpleParser } from 'mailparser';

/** What is asked of the worker, and what it answers. */
export interface MailAsk {
  raw: Uint8Array;
}

export type MailAnswer = { subject: string; text: string } | { problem: string };

/** Reads mails apart from the process that hears check-ins: some take long. */
async function read({ raw }: MailAsk): Promise<MailAnswer> {
  try {
    const mail = await simpleParser(Buffer.from(raw), {
      skipTextToHtml: true,
      skipTextLinks: true,
      skipImageLinks: true,
    });
    return { subject: mail.subject ?? '', text: mail.text ?? '' };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

parentPort?.on('message', (ask: MailAsk) => {
  void read(ask).then((answer) => parentPort?.postMessage(answer));
});
