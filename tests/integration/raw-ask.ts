import { request as httpRequest } from 'node:http';

export interface RawAnswer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: Buffer;
}

/** Asks without anything that fetch adds: no header that is not named, no unpacking. */
export function rawAsk(
  url: string,
  headers: Record<string, string> = {},
  method = 'GET',
  sent?: string,
): Promise<RawAnswer> {
  return new Promise((resolve, reject) => {
    const asking = httpRequest(url, { method, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () =>
        resolve({ status: answer.statusCode!, headers: answer.headers, body: Buffer.concat(chunks) }),
      );
    });
    asking.on('error', reject);
    asking.end(sent);
  });
}
