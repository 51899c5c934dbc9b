import { createHmac, timingSafeEqual } from 'node:crypto';
import { jsonOf, PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

export const PRACTICE_SECRET = `whsec_${Buffer.from('the boats sail at dawn, all of them').toString('base64')}`;

/** A program that takes events, and only those that are signed (Standard Webhooks). */
export class EventRoom extends PracticeRoom {
  protected override readonly refusal = { status: 410, body: 'gone for good' };

  constructor() {
    super('events', 'Harbour display', 'signed events (CloudEvents)');
  }

  protected hear(call: RoomCall): RoomReply {
    const { headers, body } = call;
    const key = Buffer.from(PRACTICE_SECRET.slice('whsec_'.length), 'base64');
    const signed = `${String(headers['webhook-id'])}.${String(headers['webhook-timestamp'])}.${body.toString('utf8')}`;
    const expected = Buffer.from(`v1,${createHmac('sha256', key).update(signed).digest('base64')}`);
    const came = Buffer.from(String(headers['webhook-signature'] ?? ''));
    if (came.length !== expected.length || !timingSafeEqual(came, expected)) {
      return { status: 401, body: 'the signature does not fit' };
    }
    const event = jsonOf(call) as { type?: string; data?: { title?: string } } | null;
    if (!event?.type) return { status: 400, body: 'expected an event' };
    this.keep(`${event.type}: ${event.data?.title ?? ''}`);
    return { status: 204, body: '' };
  }
}
