import type { Db } from '../store/connection';
import { fetchSections } from '../store/sections';
import { fetchTags } from '../store/tags';
import { fetchWatches } from '../store/watches';

/** The sections with what is in them, and the tags with what carries them. */
export async function fetchSectionsView(db: Db) {
  const watches = await fetchWatches(db);
  const shown = watches.map(({ id, name, section, status }) => ({ id, name, section, state: status.state }));
  const sections = await fetchSections(db);
  const tags = await fetchTags(db);
  return {
    sections: sections.map(({ id, name }) => ({
      id,
      name,
      watches: shown.filter((watch) => watch.section === name),
    })),
    loose: shown.filter((watch) => watch.section === null).length,
    tags: tags.map((tag) => ({
      ...tag,
      paused: watches.filter((watch) => watch.paused && watch.tags.some((one) => one.id === tag.id)).length,
    })),
  };
}
