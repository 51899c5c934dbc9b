import type { Knex } from 'knex';
import type { Language } from '@/core/languages/language';
import { WHOLE_PAGE, type FollowerState } from '@/core/followers/follower';
import { DAY_MS } from '@/core/time/units';
import { fetchWindows } from '@/store/maintenance/windows';
import { saveNewLetter, URGENCY } from '@/store/followers/letters';
import { fetchDueLetters, spreadLetter } from '@/store/followers/spreading';
import { saveNewFollower, saveRefusal } from '@/store/followers/followers';

const GIVEN = ['amal', 'bea', 'caio', 'dita', 'emre', 'fenna', 'gil', 'hana', 'ivo', 'juna'];
const PLACES = ['puffin-inn.example', 'north-quay.example', 'island-post.example', 'tern-school.example'];
const LANGUAGES: Language[] = ['en', 'en', 'en', 'pt', 'de'];

/** What is planned was told to whoever followed by then: nobody is written to because the demo was begun. */
async function noteTold(db: Knex, pageId: number, now: number): Promise<void> {
  for (const { id, title, text, begins, ends } of await fetchWindows(db, now, now + 8 * DAY_MS)) {
    await saveNewLetter(db, {
      ...{ pageId, key: `w${id}.ahead`, about: '', urgency: URGENCY.usual, madeAt: now, dueAt: now },
      facts: { kind: 'maintenance', stage: 'ahead', title, text, labels: [], begins, ends },
    });
  }
  for (const letter of await fetchDueLetters(db, now)) await spreadLetter(db, letter, new Set(), now);
}

/** Forty who follow the ferries: most said yes, some have not, and one is not reached any more. */
export async function fillFollowers(db: Knex, pageId: number, now: number): Promise<void> {
  await noteTold(db, pageId, now);
  const all = PLACES.flatMap((place) => GIVEN.map((name) => `${name}@${place}`));
  for (const [i, address] of all.entries()) {
    const madeAt = now - (80 - 2 * i) * DAY_MS - i * 3_700_000;
    const state: FollowerState = i >= 37 ? 'asked' : 'follows';
    const choice =
      i % 7 === 3 ? { labels: ['Booking site', 'Ticket kiosks'], maintenance: i % 2 === 0 } : WHOLE_PAGE;
    const id = await saveNewFollower(db, {
      ...{ pageId, kind: 'mail', address, secret: null, choice, state, madeAt },
      language: LANGUAGES[i % LANGUAGES.length]!,
      consent: state === 'asked' ? '' : 'said yes by the link in a mail',
      askedAt: madeAt,
      confirmedAt: state === 'asked' ? null : madeAt + 240_000,
    });
    if (i !== 12) continue;
    const said = 'The mail server refused an address: 550 5.1.1 nobody of that name';
    for (const last of [null, null, said]) await saveRefusal(db, id, last);
  }
}
