/** The part of the library that is used here; its own types bring a JSX of theirs for everybody. */
declare module '@xmpp/client' {
  import type { EventEmitter } from 'node:events';

  export interface Element {
    name: string;
    attrs: Record<string, string | undefined>;
    children: (Element | string)[];
    getChild(name: string, ns?: string): Element | undefined;
    getChildren(name: string, ns?: string): Element[];
    getChildText(name: string, ns?: string): string | null;
    getChildElements(): Element[];
  }

  export interface Client extends EventEmitter {
    socket: (EventEmitter & { destroy(): void; socket?: { destroy(): void } | null }) | null;
    reconnect: { stop(): void };
    iqCaller: { request(element: Element, timeoutMs?: number): Promise<Element> };
    isSecure(): boolean;
    start(): Promise<unknown>;
    stop(): Promise<unknown>;
    send(element: Element): Promise<void>;
    sendReceive(element: Element): Promise<Element>;
    options: { domain: string };
    streamFeatures: {
      use(name: string, ns: string, handler: (context: { entity: Client }) => Promise<void>): void;
    };
    /** The one way the library has of going on over another socket, used by its own encryption too. */
    _attachSocket(socket: unknown): void;
    restart(): Promise<unknown>;
  }

  export function client(options: {
    service: string;
    domain: string;
    username: string;
    password: string;
    resource?: string;
    timeout?: number;
  }): Client;
  export function xml(
    name: string,
    attrs?: Record<string, string>,
    ...children: (Element | string)[]
  ): Element;
}

declare module '@xmpp/starttls/starttls.js' {
  export function upgrade(socket: object, options: { host: string; ca?: string[] }): Promise<unknown>;
}
