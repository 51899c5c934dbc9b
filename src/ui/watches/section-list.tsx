'use client';

import { ChevronDown, ChevronRight } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { choosingSentence, type Choosing } from '@/core/telling/choosing';
import { countWatches } from '@/core/text/words';
import { Button, ButtonLink } from '@/ui/basic/button';
import { problemOf } from '@/ui/basic/call-api';
import { Confirm } from '@/ui/basic/confirm';
import { NameLine, type Others } from '@/ui/form/name-line';
import { PauseButtons } from '@/ui/basic/pause-buttons';
import { SectionEndpoint } from './section-endpoint';
import { SectionWatches } from './section-watches';
import { Sortable } from '@/ui/basic/sortable';

export interface SectionRow {
  id: number;
  name: string;
  /** How many are in it, and how many of them are paused. */
  watches: number;
  paused: number;
  /** Readable check-in addresses. */
  door: { address: string | null; mostNew: number };
  chosenBy: Choosing;
}

/** The sections in their order, with what is in them; both are put into order here. */
export function SectionList({ sections }: { sections: readonly SectionRow[] }) {
  const router = useRouter();
  const others = { what: 'section', names: sections.map((section) => section.name) };
  const [problem, setProblem] = useState<string | null>(null);
  const order = async (path: string, ids: number[]) => {
    const refused = await problemOf('POST', path, { ids });
    setProblem(refused);
    router.refresh();
    return refused === null;
  };
  return (
    <div className="flex flex-col gap-3">
      {sections.length === 0 && (
        <p className="text-muted">
          There is no section yet. A section is a folder of watches with an order and settings of its own,
          such as “On the water” for all that floats.
        </p>
      )}
      <Sortable
        label="Sections"
        items={sections}
        onOrder={(ids) => order('/sections/order', ids)}
        render={(section, handle) => (
          <OneSection
            section={section}
            others={others}
            handle={handle}
            onOrder={(ids) => order('/watches/order', ids)}
          />
        )}
      />
      {problem && (
        <p role="alert" className="text-down-text font-semibold">
          {problem}
        </p>
      )}
      <NameLine
        label="Name of a new section"
        action="Add section"
        placeholder="In the boathouse"
        others={others}
        onSave={async (name) => {
          const refused = await problemOf('POST', '/sections', { name });
          router.refresh();
          return refused;
        }}
      />
    </div>
  );
}

interface OneSectionProps {
  section: SectionRow;
  others: Others;
  handle: ReactNode;
  onOrder: (ids: number[]) => Promise<boolean>;
}

function OneSection({ section, others, handle, onOrder }: OneSectionProps) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [naming, setNaming] = useState(false);
  const { watches, paused, name } = section;
  const Chevron = open ? ChevronDown : ChevronRight;
  return (
    <div className="border-rule border-t py-2">
      <div className="flex flex-wrap items-center gap-2">
        {handle}
        {naming ? (
          <NameLine
            label={`New name of ${name}`}
            initial={name}
            others={others}
            action="Save"
            onLeave={() => setNaming(false)}
            onSave={async (next) => {
              const refused = await problemOf('PATCH', `/sections/${section.id}`, { name: next });
              if (refused === null) setNaming(false);
              router.refresh();
              return refused;
            }}
          />
        ) : (
          <button
            type="button"
            aria-expanded={open}
            className="flex min-h-9 min-w-0 items-center gap-1.5 text-left [overflow-wrap:anywhere]"
            onClick={() => setOpen(!open)}
          >
            <Chevron size={16} aria-hidden className="text-muted shrink-0" />
            <span className="font-serif text-[1.15rem]">{name}</span>
            <span className="text-muted text-[0.8438rem]">
              {watches === 0 ? 'empty' : countWatches(watches)}
              {paused > 0 && `, ${paused} paused`}
            </span>
          </button>
        )}
        <div className="ml-auto flex flex-wrap gap-2">
          <PauseButtons filter={{ sections: [name] }} paused={paused} count={watches} />
          <ButtonLink href={`/shared?section=${encodeURIComponent(name)}`}>Settings</ButtonLink>
          <Button onClick={() => setNaming(!naming)}>Rename</Button>
          <Confirm
            trigger="Delete"
            title={`Delete the section ${name}?`}
            action="Delete it"
            onConfirm={async () => {
              const refused = await problemOf('DELETE', `/sections/${section.id}`);
              router.refresh();
              return refused;
            }}
          >
            Its settings go with it. {watches === 0 ? 'There are no watches in it.' : ''}
            {watches > 0 && `Its ${countWatches(watches)} stay, without a section.`}{' '}
            {choosingSentence(section.chosenBy)}
          </Confirm>
        </div>
      </div>
      {open && (
        <div className="pl-9">
          <SectionWatches section={section} onOrder={onOrder} />
          <SectionEndpoint sectionId={section.id} {...section.door} />
        </div>
      )}
    </div>
  );
}
