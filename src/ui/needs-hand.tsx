import Link from 'next/link';
import { STRETCH_WORDS } from '../core/line-text';
import type { OverviewCard } from '../views/overview';
import { Ago } from './ago';
import { ButtonLink } from './button';
import { Ladder } from './ladder';
import { Lantern } from './lantern';
import { LookNow } from './look-now';
import { stateTextClass } from './state-colour';

/** One watch that wants a hand: what is wrong, how far the look came, what to try, who was told. */
export function NeedsHand({ card, now }: { card: OverviewCard; now: number }) {
  return (
    <article className="sheet flex flex-col px-4 py-3" aria-label={card.name}>
      <div className="flex items-center gap-2">
        <Lantern state={card.state} size={18} />
        <h2 className="font-sans text-base font-semibold">
          <Link href={`/watches/${card.id}`}>{card.name}</Link>
        </h2>
        <span className={`figures ml-auto text-[13.5px] ${stateTextClass(card.state)}`}>
          {STRETCH_WORDS[card.state]} <Ago since={card.since} now={now} />
        </span>
      </div>
      <p className="mt-1">{card.sentence}</p>
      <p className="text-muted text-[14px]">{card.advice}</p>
      <Ladder rungs={card.ladder} />
      <div className="mt-auto flex flex-wrap items-center gap-2 pt-2">
        {card.probe && <LookNow watchId={card.id} label="Look again" />}
        <ButtonLink href={`/watches/${card.id}`}>Open</ButtonLink>
        <span className="text-muted ml-auto text-[13.5px]">
          {card.told.length > 0 ? `told ${card.told.join(', ')}` : 'nobody told yet'}
        </span>
      </div>
    </article>
  );
}
