import { group } from 'd3-array';
import type { Db } from '@/store/db/connection';
import { fetchSectionEndpoints, type SectionEndpoint } from '@/store/watches/checkin-endpoints';
import { fetchSections } from '@/store/watches/sections';
import { countPausedByTag, fetchTags } from '@/store/watches/tags';
import { fetchSectionedWatches } from '@/store/watches/watches';

function doorOf(door: SectionEndpoint | undefined, base: string) {
  const { secret = null, mostNew = 0 } = door ?? {};
  return { address: secret === null ? null : `${base}/in/${secret}/`, mostNew };
}

/** The sections with what is in them, and the tags with what carries them. */
export async function fetchSectionsView(db: Db, base: string) {
  const watches = await fetchSectionedWatches(db);
  const bySection = group(watches, ({ section }) => section);
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  const paused = await countPausedByTag(db);
  const doors = await fetchSectionEndpoints(db);
  return {
    sections: sections.map(({ id, name }) => ({
      id,
      name,
      door: doorOf(doors.get(name), base),
      watches: bySection.get(name) ?? [],
    })),
    loose: bySection.get(null)?.length ?? 0,
    tags: tags.map((tag) => ({
      ...tag,
      paused: paused.get(tag.id) ?? 0,
    })),
  };
}
