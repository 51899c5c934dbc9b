/** The colours a tag may have; each has a light and a dark form. */
export const TAG_COLOURS = ['teal', 'sea', 'violet', 'plum', 'brick', 'ochre', 'moss', 'slate'] as const;

export type TagColour = (typeof TAG_COLOURS)[number];

export interface Tag {
  id: number;
  name: string;
  colour: TagColour;
}

/** The colour for one more tag: the one that is used least so far. */
export function nextColour(tags: readonly Pick<Tag, 'colour'>[]): TagColour {
  const uses = (colour: TagColour) => tags.filter((tag) => tag.colour === colour).length;
  return TAG_COLOURS.reduce((least, colour) => (uses(colour) < uses(least) ? colour : least));
}
