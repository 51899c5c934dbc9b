'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { TAG_COLOURS, type Tag as TagData } from '@/core/settings/tag';
import { choosingSentence, type Choosing } from '@/core/telling/choosing';
import { countWatches } from '@/core/text/words';
import { problemOf } from '@/ui/basic/call-api';
import { Button } from '@/ui/basic/button';
import { Confirm } from '@/ui/basic/confirm';
import { NameLine, type Others } from '@/ui/form/name-line';
import { PauseButtons } from '@/ui/basic/pause-buttons';
import { Tag } from '@/ui/basic/tag';

export interface TagRow extends TagData {
  watches: number;
  paused: number;
  chosenBy: Choosing;
}

/** The tags, with their colours and what can be done with all that carry them. */
export function TagList({ tags }: { tags: readonly TagRow[] }) {
  const router = useRouter();
  const others = { what: 'tag', names: tags.map((tag) => tag.name) };
  return (
    <div className="flex flex-col gap-3">
      {tags.length === 0 && (
        <p className="text-muted">
          There is no tag yet. Tags cut across sections: “pier” for whatever stands on a pier, “night” for
          whatever runs at night.
        </p>
      )}
      <ul aria-label="Tags">
        {tags.map((tag) => (
          <OneTag key={tag.id} tag={tag} others={others} />
        ))}
      </ul>
      <NameLine
        label="Name of a new tag"
        action="Add tag"
        placeholder="pier"
        others={others}
        onSave={async (name) => {
          const refused = await problemOf('POST', '/tags', { name });
          router.refresh();
          return refused;
        }}
      />
    </div>
  );
}

function OneTag({ tag, others }: { tag: TagRow; others: Others }) {
  const router = useRouter();
  const [naming, setNaming] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const change = async (body: object) => {
    const refused = await problemOf('PATCH', `/tags/${tag.id}`, body);
    router.refresh();
    return refused;
  };
  return (
    <li className="border-rule flex flex-wrap items-center gap-3 border-t py-2">
      {naming ? (
        <NameLine
          label={`New name of ${tag.name}`}
          initial={tag.name}
          others={others}
          action="Save"
          onLeave={() => setNaming(false)}
          onSave={async (name) => {
            const refused = await change({ name });
            if (refused === null) setNaming(false);
            return refused;
          }}
        />
      ) : (
        <Tag tag={tag} />
      )}
      <span className="text-muted text-[0.8438rem]">
        {tag.watches === 0 ? 'on no watch' : `on ${countWatches(tag.watches)}`}
        {tag.paused > 0 && `, ${tag.paused} paused`}
      </span>
      {problem && (
        <span role="alert" className="text-down-text">
          {problem}
        </span>
      )}
      <div className="ml-auto flex flex-wrap items-center gap-2">
        <PauseButtons filter={{ tags: [tag.name] }} paused={tag.paused} count={tag.watches} />
        <select
          aria-label={`Colour of ${tag.name}`}
          className="border-edge bg-card min-h-9 rounded-lg border px-2"
          value={tag.colour}
          onChange={async (event) => setProblem(await change({ colour: event.target.value }))}
        >
          {TAG_COLOURS.map((colour) => (
            <option key={colour}>{colour}</option>
          ))}
        </select>
        <Button onClick={() => setNaming(!naming)}>Rename</Button>
        <Confirm
          trigger="Delete"
          title={`Delete the tag ${tag.name}?`}
          action="Delete it"
          onConfirm={async () => {
            const refused = await problemOf('DELETE', `/tags/${tag.id}`);
            router.refresh();
            return refused;
          }}
        >
          It is taken off {tag.watches === 0 ? 'no watch' : countWatches(tag.watches)}. The watches stay.{' '}
          {choosingSentence(tag.chosenBy)}
        </Confirm>
      </div>
    </li>
  );
}
