import { array, number, string } from 'yup';
import {
  DRILL_HAPPENING_NAMES,
  drillBegins,
  drillEnds,
  foretellDrill as foretell,
  type Drill,
  type DrillHappening,
  type DrillPlan,
} from '@/core/telling/ahead/drill';
import { threadOf } from '@/core/telling/happen';
import type { WatchFacts } from '@/core/telling/route';
import { MINUTE_MS } from '@/core/time/units';
import { orNotFound } from '@/cases/frame/find';
import { actorOf } from '@/cases/frame/principal';
import { Refusal, refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { strictObject, wholeNumber } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import type { ListPage } from '@/store/db/list-page';
import {
  fetchDrill,
  fetchDrillDeliveries,
  fetchDrills,
  saveDrillEnd,
  saveNewDrill,
  type DrillDelivery,
  type KeptDrill,
} from '@/store/messages/drills';
import { saveHappening } from '@/store/messages/happenings';
import { fetchSetup } from '@/store/messages/setup';
import { fetchThread } from '@/store/messages/telling';
import { fetchFactsOf } from '@/store/watches/watch-facts';

const MOST_WATCHES = 50;
const MOST_MINUTES = 240;

export const drillSchema = strictObject({
  watchIds: array(number().integer().required())
    .min(1, 'Expected at least one watch.')
    .max(MOST_WATCHES, `Expected at most ${MOST_WATCHES} watches.`)
    .required('Expected at least one watch.')
    .meta({ description: 'The watches whose trouble is made up.' }),
  happening: string()
    .oneOf(DRILL_HAPPENING_NAMES, `Expected happening to be one of ${DRILL_HAPPENING_NAMES.join(', ')}.`)
    .default('down')
    .meta({ description: 'What is made up.' }),
  minutes: wholeNumber('minutes', 'minutes', 1, MOST_MINUTES)
    .default(5)
    .meta({ description: 'For how long, unless it is ended before.' }),
});

interface ValidDrill {
  watches: WatchFacts[];
  happening: DrillHappening;
  minutes: number;
}

async function validDrill(db: Db, body: unknown): Promise<ValidDrill> {
  type Body = { watchIds: number[]; happening: DrillHappening; minutes: number };
  const { watchIds, happening, minutes } = await validateBody<Body>(drillSchema, body);
  const ids = [...new Set(watchIds)];
  const watches = await fetchFactsOf(db, ids);
  const known = new Set(watches.map(({ id }) => id));
  const strange = ids.filter((id) => !known.has(id));
  if (strange.length > 0) {
    const message = `Expected watches that are looked after, got ${strange.join(', ')}.`;
    throw refused([{ field: 'watchIds', message }]);
  }
  return { watches, happening, minutes };
}

function drillFrom({ watches, happening, minutes }: ValidDrill, began: number): Omit<Drill, 'id'> {
  return { watches, happening, began, until: began + minutes * MINUTE_MS };
}

export interface ForetoldDrill extends DrillPlan {
  channels: ReadonlyMap<number, string>;
}

/** Who would be told what, and when; nothing is sent. */
export const foretellDrill = asks(
  'foretellDrill',
  'look',
  async ({ db, now }, { body }: { body: unknown }): Promise<ForetoldDrill> => {
    const { setup, channels } = await fetchSetup(db);
    const plan = foretell({ id: 0, ...drillFrom(await validDrill(db, body), now) }, setup);
    return { ...plan, channels: new Map(channels.map(({ id, name }) => [id, name])) };
  },
);

function touched({ about, afterwards, world }: Act, id: number): void {
  about({ kind: 'drill', id, name: `drill ${id}` });
  afterwards(() => world.engine.call('routesChanged', {}).catch(() => undefined));
}

/** Begins one: what is made up goes through routes and channels as what is real does. */
export const beginDrill = changes(
  'beginDrill',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<DrillReport> => {
    const drill = drillFrom(await validDrill(act.trx, body), act.now);
    const id = await saveNewDrill(act.trx, { ...drill, by: actorOf(act.who).name });
    for (const happening of drillBegins({ id, ...drill })) await saveHappening(act.trx, happening, act.now);
    touched(act, id);
    return report(act.trx, id);
  },
);

export const endDrill = changes(
  'endDrill',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<DrillReport> => {
    const drill = orNotFound(await fetchDrill(act.trx, id), `drill ${id}`);
    if (!(await saveDrillEnd(act.trx, id, act.now))) {
      throw new Refusal('drill.over', 'This drill is over.');
    }
    for (const happening of drillEnds(drill, act.now)) await saveHappening(act.trx, happening, act.now);
    touched(act, id);
    return report(act.trx, id);
  },
);

/** What a rehearsal came to. */
export interface DrillReport extends KeptDrill {
  deliveries: DrillDelivery[];
  /** Who took what, while it goes on. */
  taken: { watch: string; by: string; at: number }[];
}

async function report(db: Db, id: number): Promise<DrillReport> {
  const drill = orNotFound(await fetchDrill(db, id), `drill ${id}`);
  const taken: DrillReport['taken'] = [];
  for (const { id: watchId, name } of drill.watches) {
    const thread = await fetchThread(db, threadOf(watchId, id));
    if (thread?.taken) taken.push({ watch: name, by: thread.taken.by, at: thread.taken.at });
  }
  return { ...drill, deliveries: await fetchDrillDeliveries(db, id), taken };
}

/** The same for a page; null where there is none. */
export async function readDrill(db: Db, id: number): Promise<DrillReport | null> {
  return (await fetchDrill(db, id)) && report(db, id);
}

export const getDrill = asks('getDrill', 'look', ({ db }, { id }: { id: number }) => report(db, id));

export const listDrills = asks('listDrills', 'look', ({ db }, { page }: { page: ListPage }) =>
  fetchDrills(db, page),
);
