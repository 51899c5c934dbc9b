import http from 'node:http';
import https from 'node:https';
import { connect, isIP, type Socket } from 'node:net';
import { connect as connectTls, type ConnectionOptions, type TLSSocket } from 'node:tls';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import type { Transform } from 'node:stream';
import { HttpsProxyAgent } from 'https-proxy-agent';
import iconv from 'iconv-lite';
import type { CertificateChecks } from './certificate-facts';
import { checkCertificate } from './connection';
import type { Run } from '@/probes/frame/run';
import { causeSentence } from '@/core/causes/causes';
import { errorCause, LookFailure, type Failure } from '@/probes/frame/socket-cause';
import { trustFor, type Trust } from './trust';

/** At most this much of a body is kept. */
export const MOST_BODY_BYTES = 1_000_000;
const MOST_HEADER_BYTES = 32 * 1024;

/** Where to connect in place of the host of an address; at its port where none is given. */
export interface ConnectTo {
  host: string;
  port?: number;
}

/** How one request is made. */
export interface HopWish extends Trust {
  method?: string;
  headers?: Record<string, string>;
  /** Headers that let somebody in: they go to the host they were given for, and to no other. */
  privateHeaders?: Record<string, string>;
  body?: string;
  family?: 4 | 6;
  /** Connects here instead of to the host of the address. */
  connectTo?: ConnectTo;
  proxy?: URL;
  checks?: CertificateChecks;
  /** Reads on up to this many bytes, though fewer are kept. */
  readBytes?: number;
}

/** What is known of one reply so far; it is filled in as it comes, so failures keep it. */
export interface Hop {
  status?: number;
  statusLine?: string;
  headers?: http.IncomingHttpHeaders;
  rawHeaders?: string[];
  bytes: number;
  body: Buffer[];
}

export function newHop(): Hop {
  return { bytes: 0, body: [] };
}

const DECODERS: Record<string, () => Transform> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  deflate: createInflate,
  br: createBrotliDecompress,
};

export function portOf(url: URL): number {
  return Number(url.port) || (url.protocol === 'https:' ? 443 : 80);
}

export function hostOf(url: URL): string {
  return url.hostname.replace(/^\[|\]$/g, '');
}

/** Where a request's connection leads: the proxy's, the host given in place of the address's, or that one. */
function firstStop(url: URL, { connectTo, proxy }: HopWish): { host: string; port: number } {
  if (proxy) return { host: hostOf(proxy), port: portOf(proxy) };
  return { host: connectTo?.host ?? hostOf(url), port: connectTo?.port ?? portOf(url) };
}

/** A connection for one request alone. Made here and not by an agent, which costs a fifth of a look more. */
function connectFor(run: Run, url: URL, { connectTo, proxy, ...wish }: HopWish): Socket {
  const { host, port } = firstStop(url, { connectTo, proxy });
  const way = { host, port, lookup: run.lookup, family: wish.family };
  if (url.protocol !== 'https:') return connect(way);
  return connectTls({ ...way, ...tlsOptions(url, wish), ALPNProtocols: ['http/1.1'] });
}

function tlsOptions(url: URL, wish: HopWish): ConnectionOptions {
  const host = hostOf(url);
  return {
    rejectUnauthorized: false,
    // Asked for by ourselves, so that a wrong name and an unknown authority are told apart.
    checkServerIdentity: () => undefined,
    secureContext: trustFor(wish),
    servername: isIP(host) ? '' : host,
  };
}

function basicSignIn(user: string, password: string): string {
  return `Basic ${Buffer.from(`${decodeURIComponent(user)}:${decodeURIComponent(password)}`).toString('base64')}`;
}

function headersFor(url: URL, { headers, privateHeaders, body, proxy }: HopWish): Record<string, string> {
  const all: Record<string, string> = {
    host: url.host,
    'user-agent': 'CalmLantern',
    accept: '*/*',
    'accept-encoding': 'identity',
  };
  if (body) all['content-length'] = String(Buffer.byteLength(body));
  if (url.username !== '') all.authorization = basicSignIn(url.username, url.password);
  if (proxy?.username && url.protocol !== 'https:') {
    all['proxy-authorization'] = basicSignIn(proxy.username, proxy.password);
  }
  return Object.assign(all, headers, privateHeaders);
}

function requestFor(run: Run, url: URL, wish: HopWish): http.ClientRequest {
  const { proxy } = wish;
  const secure = url.protocol === 'https:';
  const options: http.RequestOptions = {
    method: wish.method ?? 'GET',
    // RFC 9112, 3.2.2: a request to a proxy names the whole address.
    path: proxy && !secure ? url.href : url.pathname + url.search,
    maxHeaderSize: MOST_HEADER_BYTES,
    headers: headersFor(url, wish),
    setHost: false,
  };
  if (!proxy || !secure) {
    return http.request({ ...options, createConnection: () => connectFor(run, url, wish) });
  }
  const agent = new HttpsProxyAgent(proxy, { lookup: run.lookup } as never);
  return https.request({
    ...options,
    ...tlsOptions(url, wish),
    agent,
    ...firstStop(url, { connectTo: wish.connectTo }),
  });
}

/** Follows a new connection through its phases. */
function followSocket(run: Run, socket: Socket, url: URL, wish: HopWish, fail: (error: Error) => void): void {
  const secure = url.protocol === 'https:';
  const onSecure = () => {
    run.lap('certificate', 'reply');
    try {
      checkCertificate(run, socket as TLSSocket, hostOf(url), wish);
    } catch (error) {
      fail(error as Error);
    }
  };
  socket.on('lookup', (error, address) => {
    if (error || run.stage !== 'name') return;
    run.target.address = String(address);
    run.lap('name', 'connect');
  });
  socket.on('connect', () => {
    run.target.address = socket.remoteAddress ?? run.target.address;
    run.lap('connect', secure ? 'certificate' : 'reply');
  });
  if (secure) socket.on('secureConnect', onSecure);
}

/**
 * One request over a new connection, filling in `hop` as the reply comes. Resolves once the reply is complete
 * or as much of it is there as is wanted; rejects with a `LookFailure`. Time is limited by the run.
 */
export function requestHop(run: Run, url: URL, hop: Hop, wish: HopWish = {}): Promise<void> {
  const { host: way, port } = firstStop(url, wish);
  run.target.host = way;
  run.target.port = port;
  run.target.address = undefined;
  run.target.family = wish.proxy ? undefined : wish.family;
  run.viaProxy = wish.proxy !== undefined;
  run.stage = isIP(way) ? 'connect' : 'name';
  const readBytes = Math.max(MOST_BODY_BYTES, wish.readBytes ?? 0);
  return new Promise((resolve, reject) => {
    let settled = false;
    let release: () => void = () => undefined;
    const request = requestFor(run, url, wish);
    const finish = (error?: Error) => {
      if (settled) return;
      settled = true;
      release();
      request.destroy();
      if (!error) resolve();
      else if (error instanceof LookFailure) reject(error);
      else reject(failureOf(error));
    };
    const failureOf = (error: NodeJS.ErrnoException): LookFailure => {
      const failure = errorCause(error, run.stage, run.target);
      // Nobody came as far as the target: the way to the proxy is what broke.
      const onTheWay = wish.proxy && (run.stage === 'name' || run.stage === 'connect');
      return onTheWay ? proxyFailure(wish.proxy!, wayReason(failure)) : new LookFailure(failure);
    };
    const onAbort = () => finish(new Error('the look has ended'));
    release = run.onEnd(onAbort);
    request.on('error', (error: NodeJS.ErrnoException) => finish(error));
    request.on('socket', (socket) => followSocket(run, socket, url, wish, finish));
    request.on('proxyConnect', (answer: { statusCode: number }) => {
      if (answer.statusCode !== 200) finish(proxyFailure(wish.proxy!, `it answered ${answer.statusCode}`));
      else run.stage = 'certificate';
    });
    request.on('response', (response) => {
      run.lap('firstByte', 'download');
      hop.status = response.statusCode;
      hop.statusLine =
        `HTTP/${response.httpVersion} ${response.statusCode} ${response.statusMessage ?? ''}`.trim();
      hop.headers = response.headers;
      hop.rawHeaders = response.rawHeaders;
      if (wish.proxy && response.statusCode === 407) {
        return finish(proxyFailure(wish.proxy, 'it asks for a sign-in'));
      }
      const decode = DECODERS[(response.headers['content-encoding'] ?? '').toLowerCase()];
      let arrived = 0;
      const ended = () => {
        run.lap('download', 'download');
        finish();
      };
      const onError = (error: NodeJS.ErrnoException) => {
        // Nothing at all, as after HEAD or in a 204, is no broken encoding.
        if (error.code === 'Z_BUF_ERROR' && arrived === 0 && response.complete) return ended();
        finish(
          error.code?.startsWith('Z_') || error.code?.startsWith('ERR_BROTLI')
            ? new LookFailure({
                cause: 'reply.broken-packing',
                detail: { encoding: String(response.headers['content-encoding']).slice(0, 40) },
              })
            : error,
        );
      };
      if (decode) response.on('data', (chunk: Buffer) => (arrived += chunk.length));
      const body = decode ? response.on('error', onError).pipe(decode()) : response;
      body.on('data', (chunk: Buffer) => {
        hop.bytes += chunk.length;
        if (hop.bytes - chunk.length < MOST_BODY_BYTES) hop.body.push(chunk);
        if (hop.bytes >= readBytes) {
          ended();
          // A bomb goes on unpacking what it already holds.
          if (decode) body.destroy();
        }
      });
      body.on('error', onError);
      body.on('end', () => {
        if (response.complete) ended();
        else finish(new LookFailure({ cause: 'reply.cut-off', detail: {} }));
      });
    });
    request.end(wish.body || undefined);
  });
}

/** Why a proxy could not be reached, as the end of a sentence. */
function wayReason({ cause, detail }: Failure): string {
  const sentence = causeSentence(cause, detail).replace(/\.$/, '');
  return sentence.charAt(0).toLowerCase() + sentence.slice(1);
}

function proxyFailure(proxy: URL, reason: string): LookFailure {
  return new LookFailure({ cause: 'reply.proxy', detail: { proxy: proxy.host, reason } });
}

/** Where a page says itself how it is written (WHATWG HTML, 13.2.3.2): the first kilobyte is looked through. */
const META_BYTES = 1024;
/** Labels of the encoding standard that mean another one than their name says. */
const LABELS: Record<string, string> = {
  'iso-8859-1': 'windows-1252',
  latin1: 'windows-1252',
  'us-ascii': 'windows-1252',
  ascii: 'windows-1252',
  'iso-8859-9': 'windows-1254',
  'tis-620': 'windows-874',
  gb2312: 'gbk',
  'ks_c_5601-1987': 'euc-kr',
  'shift-jis': 'shift_jis',
  'x-sjis': 'shift_jis',
};

/** The character set a body is written in: its own mark, what the reply says, what the page says, else UTF-8. */
export function charsetOf(bytes: Buffer, contentType: string): string {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const said = /charset\s*=\s*["']?([\w:.-]+)/i.exec(contentType)?.[1];
  const meta = /<meta[^>]+charset\s*=\s*["']?([\w:.-]+)/i.exec(
    bytes.subarray(0, META_BYTES).toString('latin1'),
  )?.[1];
  for (const label of [said, meta]) {
    const name = label?.toLowerCase();
    const known = name && (LABELS[name] ?? name);
    // A page whose <meta> could be read at all is not written in sixteen bits.
    if (known && iconv.encodingExists(known))
      return label === meta && known.startsWith('utf-16') ? 'utf-8' : known;
  }
  return 'utf-8';
}

/** The body as text; what is no valid text in its character set shows as "�". */
export function textOf(hop: Hop): string {
  const bytes = Buffer.concat(hop.body);
  const charset = charsetOf(bytes, hop.headers?.['content-type'] ?? '');
  return charset === 'utf-8' ? new TextDecoder('utf-8').decode(bytes) : iconv.decode(bytes, charset);
}
