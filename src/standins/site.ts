import http from 'node:http';
import https from 'node:https';
import type { KeyAndCertificate } from './certificates';
import { listen, trackSockets } from './listener';
import type { StandIn } from './stand-in';

const MODES = ['fine', 'stopped', 'slow', 'status 500', 'other text', 'cut off'] as const;
const SECURE_MODES = [...MODES, 'expired certificate'] as const;
const SLOW_MS = 3000;
const PATHS = ['/', '/crossings', '/camera', '/timetable', '/guest', '/fine'];

export interface SiteOptions {
  id: string;
  title: string;
  /** The words a watch may look for. */
  words: string;
  port: number;
  /** Where a public page about it begins, with a slash at its end: it shows badges of it. */
  statusPage?: string;
  secure?: { fine: KeyAndCertificate; expired: KeyAndCertificate };
}

/** A small web site that can be broken in the ways real ones break. */
export class PracticeSite implements StandIn {
  readonly id: string;
  readonly title: string;
  readonly modes: readonly string[];
  mode = 'fine';
  port: number;
  private server: http.Server | https.Server | null = null;
  private stopServer: () => Promise<void> = async () => undefined;

  constructor(private readonly options: SiteOptions) {
    this.id = options.id;
    this.title = options.title;
    this.port = options.port;
    this.modes = options.secure ? SECURE_MODES : MODES;
  }

  get address(): string {
    return `${this.options.secure ? 'https' : 'http'}://127.0.0.1:${this.port}/`;
  }

  async start(): Promise<void> {
    if (this.server) return;
    const { secure } = this.options;
    const handler = (request: http.IncomingMessage, response: http.ServerResponse) =>
      this.answer(request, response);
    const pair = this.mode === 'expired certificate' ? secure?.expired : secure?.fine;
    this.server = pair ? https.createServer(pair, handler) : http.createServer(handler);
    this.stopServer = trackSockets(this.server);
    this.port = await listen(this.server, this.port);
  }

  async setMode(mode: string): Promise<void> {
    const wasExpired = this.mode === 'expired certificate';
    this.mode = mode;
    if (mode === 'stopped') return this.stop();
    if (wasExpired !== (mode === 'expired certificate')) await this.stop();
    await this.start();
  }

  async stop(): Promise<void> {
    this.server = null;
    await this.stopServer();
  }

  /** What a site shows of a public page: how booking stands, for how long, and a bar while something is wrong. */
  private badges(): string {
    const { statusPage: page } = this.options;
    if (page === undefined) return '';
    const badge = (query: string, alt: string) =>
      `<a href="${page}"><img src="${page}badge/1-1.${query}" alt="${alt}"></a> `;
    return (
      `<p>${badge('svg?label=Booking', 'Booking: how it stands')}` +
      `${badge('svg?shows=line&amp;label=Booking', 'Booking: its line')}` +
      `${badge('png?shows=uptime&amp;days=30&amp;shape=square', 'Booking: its figure')}</p>` +
      `<script src="${page}bar.js" async></script>`
    );
  }

  private answer(request: http.IncomingMessage, response: http.ServerResponse): void {
    const words =
      this.mode === 'other text' ? 'Down for repairs. Please come back later.' : this.options.words;
    const path = (request.url ?? '/').split('?')[0]!;
    if (this.mode === 'fine' && !PATHS.includes(path)) {
      response
        .writeHead(404, { 'content-type': 'text/html; charset=utf-8' })
        .end('<h1>There is nothing here.</h1>');
      return;
    }
    const status = this.mode === 'status 500' ? 500 : 200;
    const body = `<!doctype html><title>${this.title}</title><h1>${this.title}</h1><p>${words}</p>${this.badges()}${'<p>Tern Island Ferries sails all year.</p>'.repeat(40)}`;
    const send = () => {
      response.writeHead(status, {
        'content-type': 'text/html; charset=utf-8',
        'content-length': Buffer.byteLength(body),
      });
      if (this.mode === 'cut off') {
        response.write(body.slice(0, 100), () => response.destroy());
        return;
      }
      response.end(request.method === 'HEAD' ? undefined : body);
    };
    if (this.mode === 'slow') setTimeout(send, SLOW_MS).unref();
    else send();
  }
}
