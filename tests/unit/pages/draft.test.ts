import { describe, expect, it } from 'vitest';
import { CAUSE_CODES } from '@/core/causes/causes';
import { draftAccount, draftIncident } from '@/core/pages/draft';
import { standsAt } from '@/core/pages/incident';

const at = (clock: string) => Date.parse(`2026-11-25T${clock}Z`);
const outage = { id: 7, began: at('14:17:05'), ended: null, cause: 'port.refused' as const };
const lines = [
  { label: 'Online booking', pageId: 1 },
  { label: 'Booking', pageId: 2 },
  { label: 'Both', pageId: 1 },
];

describe('an incident drafted from an outage', () => {
  it('says in public words and names what is out since when', () => {
    const affected = [{ watchId: 3, how: 'out' as const }];
    expect(draftIncident(outage, lines, affected, 'UTC')).toEqual({
      outageId: 7,
      title: 'Online booking is not answering',
      body: 'Online booking has not been answering since Wed 25 Nov, 14:17 (UTC). We are looking into it.',
      stage: 'looking',
      beganAt: at('14:17:05'),
      endedAt: null,
      affected,
      pageIds: [1, 2],
    });
  });

  it('tells of one that is over as that', () => {
    const over = draftIncident({ ...outage, ended: at('14:48:00') }, [], [], 'UTC');
    expect(over).toMatchObject({ stage: 'over', endedAt: at('14:48:00'), pageIds: [] });
    expect(over.body).toBe(
      'A service was out from Wed 25 Nov, 14:17 to Wed 25 Nov, 14:48 (UTC). It is running again.',
    );
  });

  it('has words for every cause, and names none', () => {
    for (const cause of CAUSE_CODES) {
      const { title, body } = draftIncident({ ...outage, cause }, lines, [], 'UTC');
      expect(`${title} ${body}`, cause).not.toContain(cause);
      expect(title, cause).toMatch(/^Online booking (is|cannot) /);
    }
  });
});

describe('what happened, drafted', () => {
  it('has the exact times of the outage, and what was told in order', () => {
    const updates = [
      { at: at('14:40:00'), body: 'We make room.\n\nMore.' },
      { at: at('14:20:00'), body: 'We look.' },
    ];
    const incident = { began: at('14:00:00'), ended: at('15:00:00'), updates };
    const text = draftAccount(incident, { ...outage, ended: at('14:48:09') }, 'UTC');
    expect(text).toContain('It began at Wed 25 Nov, 14:17:05 (UTC). It was over at Wed 25 Nov, 14:48:09.');
    expect(text).toContain('- Wed 25 Nov, 14:20: We look.\n- Wed 25 Nov, 14:40: We make room.\n');
    expect(draftAccount({ ...incident, ended: null, updates: [] }, null, 'UTC').split('\n')).toEqual([
      ...['**What happened.** ', '', 'It began at Wed 25 Nov, 14:00:00 (UTC).', ''],
      ...['', '**What will change.** '],
    ]);
    expect(draftAccount(incident, null, 'UTC')).toContain(
      '14:00:00 (UTC). It was over at Wed 25 Nov, 15:00:00.',
    );
  });
});

describe('incidents', () => {
  it('stand from their beginning to their end', () => {
    const stands = (began: number, ended: number | null) => standsAt({ began, ended }, 10);
    expect([stands(10, null), stands(11, null), stands(1, 10), stands(1, 11)]).toEqual([
      true,
      false,
      false,
      true,
    ]);
  });
});
