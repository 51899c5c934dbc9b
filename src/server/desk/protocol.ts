import type { Arrival } from '@/core/pages/host-check';
import type { MailEndpointSettings } from '@/core/reports/mail-words';
import type { EngineCall } from '@/engine/link/protocol';
import type { MailEndpointState, PageDraft } from '@/cases/frame/world';

/** What the desk may ask of the front door, and what it answers. */
export interface DoorCalls {
  /** Something for the engine, which the front door alone is connected to. */
  engine: { ask: { call: EngineCall; ask: unknown }; answer: { answer: unknown } | { away: true } };
  connected: { ask: null; answer: boolean };
  /** Something was changed that open desks and public pages are to hear of. */
  changed: { ask: { event: 'pages' | 'plans'; pageId?: number }; answer: null };
  forgetKeys: { ask: null; answer: null };
  mail: { ask: null; answer: MailEndpointState };
  changeMail: { ask: MailEndpointSettings; answer: null };
  keepPreview: { ask: PageDraft; answer: string };
  expectArrival: { ask: null; answer: string };
  cameBy: { ask: string; answer: Arrival | null };
}

export type DoorCall = keyof DoorCalls;

/** What does for the desk what it asks for. */
export type DoorHandlers = {
  [C in DoorCall]: (ask: DoorCalls[C]['ask']) => Promise<DoorCalls[C]['answer']> | DoorCalls[C]['answer'];
};

/** What the front door says to a desk; messages between processes are copied whole, sets and maps included. */
export type ToDesk =
  | { type: 'begin'; socket: string; firstCode: string }
  | { type: 'ping' }
  | { type: 'answer'; id: number; answer: unknown }
  | { type: 'problem'; id: number; problem: string }
  /** Finish what is under way and end. */
  | { type: 'stop' };

/** What a desk says to the front door. */
export type FromDesk =
  /** It answers at its socket. */
  | { type: 'open' }
  | { type: 'pong'; memoryMb: number }
  | { type: 'ask'; id: number; call: DoorCall; ask: unknown };
