'use client';

import { useDesk } from './live-desk';
import { MoreInTrouble, NeedsHand, NeedsHandTogether } from './needs-hand';
import { OwnTroubles } from './own-troubles';
import { Unreached } from './unreached';
import { UplinkLost } from './uplink-lost';

/** What leads the desk: how things are, and what wants a hand. */
export function DeskHead() {
  const { head } = useDesk();
  const { now, sentence, below, unheard, own, lineLostSince, cards, together, moreCards } = head;
  return (
    <>
      <div>
        <h1>{sentence}</h1>
        <p className="text-muted mt-1.5 min-h-6">{below}</p>
      </div>
      <Unreached unheard={unheard} watches={head.all} />
      <OwnTroubles troubles={own} now={now} />
      {lineLostSince !== null && <UplinkLost since={lineLostSince} now={now} />}
      {cards.length + together.length > 0 && (
        <div className="grid gap-4 lg:grid-cols-2">
          {together.map((group) => (
            <NeedsHandTogether key={group.cards[0]!.id} group={group} now={now} />
          ))}
          {cards.map((card) => (
            <NeedsHand key={card.id} card={card} now={now} />
          ))}
          {moreCards > 0 && (
            <p className="lg:col-span-2">
              <MoreInTrouble count={moreCards} />
            </p>
          )}
        </div>
      )}
    </>
  );
}
