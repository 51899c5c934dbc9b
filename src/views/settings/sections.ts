import type { Db } from '@/store/db/connection';
import { fetchSectionEndpoints, type SectionEndpoint } from '@/store/watches/checkin-endpoints';
import { fetchSections } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import { fetchWatchesOnce } from '@/views/watches-once';

function doorOf(door: SectionEndpoint | undefined, base: string) {
  const { secret = null, mostNew = 0 } = door ?? {};
  return { address: secret === null ? null : `${base}/in/${secret}/`, mostNew };
}

/** The sections with what is in them, and the tags with what carries them. */
export async function fetchSectionsView(db: Db, base: string) {
  const watches = await fetchWatchesOnce(db);
  const shown = watches.map(({ id, name, section, status }) => ({ id, name, section, state: status.state }));
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  const doors = await fetchSectionEndpoints(db);
  return {
    sections: sections.map(({ id, name }) => ({
      id,
      name,
      door: doorOf(doors.get(name), base),
      watches: shown.filter((watch) => watch.section === name),
    })),
    loose: shown.filter((watch) => watch.section === null).length,
    tags: tags.map((tag) => ({
      ...tag,
      paused: watches.filter((watch) => watch.paused && watch.tags.some((one) => one.id === tag.id)).length,
    })),
  };
}
