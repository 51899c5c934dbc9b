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
    socket: (EventEmitter & { socket?: { destroy(): void } | null }) | null;
    reconnect: { stop(): void };
    iqCaller: { request(element: Element, timeoutMs?: number): Promise<Element> };
    isSecure(): boolean;
    start(): Promise<unknown>;
    stop(): Promise<unknown>;
    send(element: Element): Promise<void>;
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
