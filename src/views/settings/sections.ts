import type { Db } from '@/store/db/connection';
import { fetchSectionEndpoints, type SectionEndpoint } from '@/store/watches/checkin-endpoints';
import { countLoose, countPausedBySection, fetchSections } from '@/store/watches/sections';
import { countPausedByTag, fetchTags } from '@/store/watches/tags';

function doorOf(door: SectionEndpoint | undefined, base: string) {
  const { secret = null, mostNew = 0 } = door ?? {};
  return { address: secret === null ? null : `${base}/in/${secret}/`, mostNew };
}

/** The sections and the tags, with how many watches are in them or carry them. */
export async function fetchSectionsView(db: Db, base: string) {
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  const paused = await countPausedBySection(db);
  const pausedByTag = await countPausedByTag(db);
  const doors = await fetchSectionEndpoints(db);
  return {
    sections: sections.map((section) => ({
      ...section,
      paused: paused.get(section.id) ?? 0,
      door: doorOf(doors.get(section.name), base),
    })),
    loose: await countLoose(db),
    tags: tags.map((tag) => ({
      ...tag,
      paused: pausedByTag.get(tag.id) ?? 0,
    })),
  };
}
