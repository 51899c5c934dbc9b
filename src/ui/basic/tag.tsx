import type { Tag as TagData } from '@/core/settings/tag';

/** A tag as it is shown: its colour, and its name in ink. */
export function Tag({ tag }: { tag: Pick<TagData, 'name' | 'colour'> }) {
  return (
    <span
      className="inline-flex max-w-48 items-center gap-1.5 rounded-full border px-2 text-[0.7812rem] leading-5 whitespace-nowrap"
      style={{ borderColor: `var(--tag-${tag.colour})` }}
    >
      <span
        aria-hidden
        className="size-2 shrink-0 rounded-full"
        style={{ background: `var(--tag-${tag.colour})` }}
      />
      <span className="truncate">{tag.name}</span>
    </span>
  );
}
