import { describe, expect, it } from 'vitest';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import { outgoing } from './outgoing';

const down = { kind: 'down' as const, began: 0, noticed: 0, cause: 'port.refused' as const, detail: {} };
const real = outgoing({ event: down, watch: { id: 7, name: 'Kiosk' } });

describe('a message of a drill', () => {
  it('is marked for programs', () => {
    expect(cloudEventOf(real)).not.toHaveProperty('drill');
    expect(cloudEventOf({ ...real, drill: true })).toMatchObject({ drill: true, type: 'lantern.down' });
  });
});
