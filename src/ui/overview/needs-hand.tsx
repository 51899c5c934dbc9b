import { stateWords } from '@/core/history/state-text';
import { Link } from '@/ui/basic/link';
import type { OverviewCard } from '@/views/overview/cards';
import type { Overview } from '@/views/overview/overview';
import { Ago } from '@/ui/basic/ago';
import { ButtonLink } from '@/ui/basic/button';
import { Ladder } from '@/ui/watch/ladder';
import { Lantern } from '@/ui/basic/lantern';
import { LookNow } from '@/ui/watch/look-now';
import { stateTextClass } from '@/ui/basic/state-colour';

function Title({ card, now }: { card: OverviewCard; now: number }) {
  return (
    <div className="flex items-center gap-2">
      <Lantern state={card.state} size={18} />
      <h2 className="font-sans text-base font-semibold">
        <Link href={`/watches/${card.id}`}>{card.name}</Link>
      </h2>
      <span className={`figures ml-auto shrink-0 text-[0.8438rem] ${stateTextClass(card.state)}`}>
        {stateWords(card.state, card.warned)} <Ago since={card.since} now={now} />
      </span>
    </div>
  );
}

function toldText(card: OverviewCard): string {
  if (card.takenBy !== null) return `${card.takenBy} has it`;
  if (card.told.length > 0) return `told ${card.told.join(', ')}`;
  return card.follows ? `follows from ${card.follows.name}; nobody told of it by itself` : 'nobody told yet';
}

/** One watch that wants a hand: what is wrong, how far the look came, what to try, who was told. */
export function NeedsHand({ card, now }: { card: OverviewCard; now: number }) {
  return (
    <article className="sheet flex flex-col px-4 py-3" aria-label={card.name}>
      <Title card={card} now={now} />
      <p className="mt-1">{card.sentence}</p>
      <p className="text-muted text-[0.875rem]">{card.advice}</p>
      <Ladder rungs={card.ladder} />
      <div className="mt-auto flex flex-wrap items-center gap-2 pt-2">
        {card.probe && <LookNow watchId={card.id} label="Look again" />}
        <ButtonLink href={`/watches/${card.id}`}>Open</ButtonLink>
        <span className="text-muted ml-auto text-[0.8438rem]">{toldText(card)}</span>
      </div>
    </article>
  );
}

/** Says that more are in trouble than are told one by one, and leads to them. */
export function MoreInTrouble({ count }: { count: number }) {
  return (
    <Link href="/watches?state=down&state=doubtful" className="underline underline-offset-2">
      and {count} more
    </Link>
  );
}

/** Several watches whose troubles have a likely cause in common, as the one trouble they are. */
export function NeedsHandTogether({ group, now }: { group: Overview['together'][number]; now: number }) {
  return (
    <article className="sheet px-4 py-3 lg:col-span-2" aria-label={group.sentence}>
      <h2 className="text-lg">{group.sentence}</h2>
      <p className="text-muted text-[0.875rem]">{group.advice}</p>
      <ul className="mt-2 grid gap-x-8 lg:grid-cols-2">
        {group.cards.map((card) => (
          <li key={card.id} className="border-rule border-t py-2">
            <Title card={card} now={now} />
            <p className="mt-1 text-[0.9062rem]">{card.sentence}</p>
            <Ladder rungs={card.ladder} />
            <div className="flex flex-wrap items-center gap-2">
              {card.probe && <LookNow watchId={card.id} label="Look again" />}
              <span className="text-muted ml-auto text-[0.8438rem]">{toldText(card)}</span>
            </div>
          </li>
        ))}
      </ul>
      {group.more > 0 && (
        <p className="border-rule border-t pt-2">
          <MoreInTrouble count={group.more} />
        </p>
      )}
    </article>
  );
}
