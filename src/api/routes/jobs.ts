import { newCheckinKey, newSecret } from '../../accounts/secrets';
import { daysOffOf } from '../../core/days-off';
import { fetchSectionDoors, saveCheckinName, saveNewKey, saveSectionDoor } from '../../store/checkin-doors';
import { fetchSections } from '../../store/sections';
import { fetchWatch, fetchWatches, type WatchWithStatus } from '../../store/watches';
import { notFound, Problem, refused } from '../problem';
import { idOf, type Call, type Route } from '../route';
import { checkinNameSchema, daysOffSchema, newKeySchema, sectionDoorSchema } from '../schemas/jobs';
import { watchShape } from '../shapes';
import { validateBody } from '../validate';

async function foundJob(call: Call): Promise<WatchWithStatus> {
  const watch = await fetchWatch(call.context.db, idOf(call));
  if (!watch) throw notFound(`watch ${call.params.id}`);
  if (watch.config.type !== 'checkin') {
    throw new Problem(409, 'No check-in', 'A probe looks by itself; it has no check-in address.');
  }
  return watch;
}

async function shown(call: Call) {
  return watchShape((await fetchWatch(call.context.db, idOf(call)))!, call.base);
}

export const jobRoutes: Route[] = [
  {
    method: 'POST',
    path: '/days-off',
    tag: 'Check-ins',
    summary: 'Read days off from an iCalendar file; nothing is kept',
    body: daysOffSchema,
    status: 200,
    answer: 'The days of its all-day events from today on, three years ahead.',
    handle: async (call) => {
      const { text } = await validateBody<{ text: string }>(daysOffSchema, call.body);
      try {
        return { days: daysOffOf(text, new Date(call.now).toISOString().slice(0, 10)) };
      } catch (error) {
        throw refused([{ field: 'text', message: (error as Error).message }]);
      }
    },
  },
  {
    method: 'POST',
    path: '/watches/{id}/key',
    tag: 'Check-ins',
    summary: 'Give a check-in a new address; the old one counts for some time yet',
    body: newKeySchema,
    status: 200,
    answer: 'The watch with its new address.',
    handle: async (call) => {
      const watch = await foundJob(call);
      const { overlap } = await validateBody<{ overlap: number }>(newKeySchema, call.body);
      await saveNewKey(call.context.db, watch.id, newCheckinKey(), call.now + overlap * 1000);
      call.context.forgetKeys();
      return shown(call);
    },
  },
  {
    method: 'POST',
    path: '/watches/{id}/checkin-name',
    tag: 'Check-ins',
    summary: 'Give a check-in a readable address under the secret of its section, or take it away',
    body: checkinNameSchema,
    status: 200,
    answer: 'The watch.',
    handle: async (call) => {
      const watch = await foundJob(call);
      const { name } = await validateBody<{ name: string | null }>(checkinNameSchema, call.body);
      if (watch.section === null) {
        throw refused([{ field: 'name', message: 'Expected a watch in a section; this one is in none.' }]);
      }
      const twin = (await fetchWatches(call.context.db)).find(
        (other) => other.id !== watch.id && other.section === watch.section && other.checkinName === name,
      );
      if (name !== null && twin) {
        throw refused([
          { field: 'name', message: `Expected a name of its own; “${twin.name}” has this one.` },
        ]);
      }
      await saveCheckinName(call.context.db, watch.id, name);
      call.context.forgetKeys();
      return shown(call);
    },
  },
  {
    method: 'POST',
    path: '/sections/{id}/checkin-address',
    tag: 'Check-ins',
    summary: 'Open or close readable check-in addresses for a section, or give them another secret',
    body: sectionDoorSchema,
    status: 200,
    answer: 'Where the jobs of the section report, without the name at its end; null when closed.',
    handle: async (call) => {
      const { db } = call.context;
      const section = (await fetchSections(db)).find((one) => one.id === idOf(call));
      if (!section) throw notFound(`section ${call.params.id}`);
      const wish = await validateBody<{ open: boolean; renew: boolean; mostNew: number }>(
        sectionDoorSchema,
        call.body,
      );
      const before = (await fetchSectionDoors(db)).get(section.name)!;
      const secret = wish.open ? ((wish.renew ? null : before.secret) ?? newSecret()) : null;
      await saveSectionDoor(db, section.id, { secret, mostNew: secret === null ? 0 : wish.mostNew });
      call.context.forgetKeys();
      return { address: secret === null ? null : `${call.base}/in/${secret}/`, mostNew: wish.mostNew };
    },
  },
];
