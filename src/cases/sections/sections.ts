import { newSecret } from '@/accounts/secrets';
import type { Db } from '@/store/db/connection';
import { fetchSectionEndpoints, saveSectionEndpoint } from '@/store/watches/checkin-endpoints';
import {
  deleteSection as deleteKept,
  fetchIdsInSection,
  fetchSections,
  saveNewSection,
  saveSectionName,
  saveSectionOrder,
  saveWatchOrder,
  type Section,
} from '@/store/watches/sections';
import { saveRenamed } from '@/store/watches/renamed';
import { fetchNamedInSection, type NamedWatch } from '@/store/watches/watches';
import { deletes } from '@/cases/frame/deletes';
import { byId } from '@/cases/frame/find';
import { asks, changes } from '@/cases/frame/use-case';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refuseTwice } from '@/cases/frame/unique';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { sectionEndpointSchema } from '@/cases/schemas/jobs';
import { orderSchema, sectionSchema } from '@/cases/schemas/shared';
import { tellEngine } from '@/cases/watches/around';

async function found(db: Db, id: number): Promise<Section> {
  return byId(await fetchSections(db), id, 'section');
}

export function sectionVersion({ name }: Section): string {
  return versionOf(name);
}

export const listSections = asks('listSections', 'look', ({ db }): Promise<Section[]> => fetchSections(db));

export const getSection = asks('getSection', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const listSectionWatches = asks(
  'listSectionWatches',
  'look',
  async ({ db }, { id }: { id: number }): Promise<NamedWatch[]> => {
    await found(db, id);
    return fetchNamedInSection(db, id);
  },
);

const named = ({ body }: { body: object }) =>
  validateBody<{ name: string }>(sectionSchema, withoutReadOnly(body, ['watches']));

export const createSection = changes(
  'createSection',
  'operate',
  named,
  async ({ trx, about }, { name }): Promise<Section> => {
    refuseTwice(name, await fetchSections(trx));
    const id = await saveNewSection(trx, name);
    about({ kind: 'section', id, name });
    return found(trx, id);
  },
);

interface SectionChange {
  id: number;
  body: object;
  expected: Expected;
}

export const changeSection = changes(
  'changeSection',
  'operate',
  async (input: SectionChange) => ({ ...input, ...(await named(input)) }),
  async ({ trx, about, afterwards, world }, { id, name, expected }): Promise<Section> => {
    const section = await found(trx, id);
    refuseChanged(expected, sectionVersion(section), 'this section');
    refuseTwice(name, await fetchSections(trx), id);
    await saveSectionName(trx, id, name);
    about({ kind: 'section', id, name });
    if (name !== section.name) {
      await saveRenamed(trx, 'sections', section.name, name);
      const ids = await fetchIdsInSection(trx, id);
      afterwards(() => tellEngine(world, ids, { renamed: true }));
    }
    return found(trx, id);
  },
);

export const deleteSection = deletes('deleteSection', 'operate', {
  find: found,
  version: sectionVersion,
  called: () => 'this section',
  remove: deleteKept,
  touched: ({ about, afterwards, world }, { id, name }, ids) => {
    about({ kind: 'section', id, name });
    afterwards(() => tellEngine(world, ids));
  },
});

const ordered = ({ body }: { body: unknown }) => validateBody<{ ids: number[] }>(orderSchema, body);

export const orderSections = changes(
  'orderSections',
  'operate',
  ordered,
  async ({ trx, about }, { ids }): Promise<Section[]> => {
    await saveSectionOrder(trx, ids);
    about({ kind: 'section', id: null, name: 'their order' });
    return fetchSections(trx);
  },
);

export const orderWatches = changes(
  'orderWatches',
  'operate',
  ordered,
  async ({ trx, about }, { ids }): Promise<void> => {
    await saveWatchOrder(trx, ids);
    about({ kind: 'watch', id: null, name: 'their order' });
  },
);

interface EndpointWish {
  open: boolean;
  renew: boolean;
  mostNew: number;
}

/** Opens or closes readable check-in addresses for a section, or gives them another secret. */
export const openSectionAddress = changes(
  'openSectionAddress',
  'operate',
  async ({ id, body }: { id: number; body: unknown }) => ({
    id,
    wish: await validateBody<EndpointWish>(sectionEndpointSchema, body),
  }),
  async ({ trx, about, afterwards, world }, { id, wish }) => {
    const section = await found(trx, id);
    const before = (await fetchSectionEndpoints(trx)).get(section.name)!;
    const secret = wish.open ? ((wish.renew ? null : before.secret) ?? newSecret()) : null;
    const mostNew = secret === null ? 0 : wish.mostNew;
    await saveSectionEndpoint(trx, id, { secret, mostNew });
    about({ kind: 'section', id, name: section.name });
    afterwards(world.forgetKeys);
    return { secret, mostNew };
  },
);
