import type { Db } from '../store/connection';
import { fetchSectionDoors, type SectionDoor } from '../store/checkin-doors';
import { fetchSections } from '../store/sections';
import { fetchTags } from '../store/tags';
import { fetchWatchesOnce } from './watches-once';

function doorOf(door: SectionDoor | undefined, base: string) {
  const { secret = null, mostNew = 0 } = door ?? {};
  return { address: secret === null ? null : `${base}/in/${secret}/`, mostNew };
}

/** The sections with what is in them, and the tags with what carries them. */
export async function fetchSectionsView(db: Db, base: string) {
  const watches = await fetchWatchesOnce(db);
  const shown = watches.map(({ id, name, section, status }) => ({ id, name, section, state: status.state }));
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  const doors = await fetchSectionDoors(db);
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
