import { parentPort } from 'node:worker_threads';
import { simpleParser, type ParsedMail, type StructuredHeader } from 'mailparser';

/** What is asked of the worker, and what it answers. */
export interface MailAsk {
  raw: Uint8Array;
}

export type MailAnswer =
  | {
      subject: string;
      text: string;
      /** What a mail server says of a delivery (message/delivery-status); null where it is no such mail. */
      report: string | null;
    }
  | { problem: string };

/** The machine’s part of a report (RFC 3464), which stands behind what people are told; it names who reports first. */
function reportOf(mail: ParsedMail, text: string): string | null {
  const type = mail.headers.get('content-type') as StructuredHeader | undefined;
  const reports = type?.value === 'multipart/report' && type.params['report-type'] === 'delivery-status';
  const begins = reports ? text.search(/^Reporting-MTA:/im) : -1;
  return begins < 0 ? null : text.slice(begins);
}

/** Reads mails apart from the process that hears check-ins: some take long. */
async function read({ raw }: MailAsk): Promise<MailAnswer> {
  try {
    const mail = await simpleParser(Buffer.from(raw), {
      skipTextToHtml: true,
      skipTextLinks: true,
      skipImageLinks: true,
    });
    const text = mail.text ?? '';
    return { subject: mail.subject ?? '', text, report: reportOf(mail, text) };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

parentPort?.on('message', (ask: MailAsk) => {
  void read(ask).then((answer) => parentPort?.postMessage(answer));
});
