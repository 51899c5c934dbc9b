import type { Choosing } from '@/core/telling/choosing';
import { goesBy } from '@/core/telling/route';
import type { Db } from '@/store/db/connection';
import { fetchChosenByGroups } from '@/store/maintenance/covering';
import { fetchRoutes } from '@/store/messages/routes';
import { fetchSectionEndpoints, type SectionEndpoint } from '@/store/watches/checkin-endpoints';
import { countLoose, countPausedBySection, fetchSections } from '@/store/watches/sections';
import { countPausedByTag, fetchTags } from '@/store/watches/tags';

function doorOf(door: SectionEndpoint | undefined, base: string) {
  const { secret = null, mostNew = 0 } = door ?? {};
  return { address: secret === null ? null : `${base}/in/${secret}/`, mostNew };
}

async function fetchChosenBy(db: Db, now: number) {
  const routes = await fetchRoutes(db);
  const planned = await fetchChosenByGroups(db, now);
  const ids = { sections: 'sectionIds', tags: 'tagIds' } as const;
  return (of: 'sections' | 'tags', { id, name }: { id: number; name: string }): Choosing => ({
    routes: routes.filter(({ watches }) => goesBy(watches, of, name)).map((route) => route.name),
    maintenance: planned.filter((one) => one[ids[of]].includes(id)).map(({ title }) => title),
  });
}

/** The sections and the tags, with how many watches are in them or carry them, and what chooses by them. */
export async function fetchSectionsView(db: Db, { base, now }: { base: string; now: number }) {
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  const paused = await countPausedBySection(db);
  const pausedByTag = await countPausedByTag(db);
  const chosenBy = await fetchChosenBy(db, now);
  const doors = await fetchSectionEndpoints(db);
  return {
    sections: sections.map((section) => ({
      ...section,
      paused: paused.get(section.id) ?? 0,
      door: doorOf(doors.get(section.name), base),
      chosenBy: chosenBy('sections', section),
    })),
    loose: await countLoose(db),
    tags: tags.map((tag) => ({
      ...tag,
      paused: pausedByTag.get(tag.id) ?? 0,
      chosenBy: chosenBy('tags', tag),
    })),
  };
}
