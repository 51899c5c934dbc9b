import type { DeskLine } from '@/views/overview/lines';
import type { OverviewHead } from '@/views/overview/overview';

/** A line as it is asked for. */
export type WireLine = Omit<DeskLine, 'line'> & { line: { kind: string; from: string; until: string }[] };

export const deskLineOf = ({ line, ...rest }: WireLine): DeskLine => ({
  ...rest,
  line: line.map(({ kind, from, until }) => ({
    kind: kind as DeskLine['line'][number]['kind'],
    from: Date.parse(from),
    to: Date.parse(until),
  })),
});

type Card = OverviewHead['cards'][number];
type WireCard = Omit<Card, 'since'> & { sinceAt: string };
type Group = OverviewHead['together'][number];
type Own = OverviewHead['own'][number];

/** What leads the desk, as it is asked for. */
export type WireHead = Pick<OverviewHead, 'sentence' | 'below' | 'moreCards' | 'unheard'> & {
  readAt: string;
  watches: number;
  cards: WireCard[];
  together: (Omit<Group, 'cards'> & { cards: WireCard[] })[];
  own: (Omit<Own, 'began'> & { beganAt: string | null })[];
  lineLostAt: string | null;
};

const momentOf = (text: string | null) => (text === null ? null : Date.parse(text));
const cardOf = ({ sinceAt, ...rest }: WireCard): Card => ({ ...rest, since: Date.parse(sinceAt) });

export function headOf({
  readAt,
  watches,
  cards,
  together,
  own,
  lineLostAt,
  ...rest
}: WireHead): OverviewHead {
  return {
    ...rest,
    now: Date.parse(readAt),
    all: watches,
    cards: cards.map(cardOf),
    together: together.map((group) => ({ ...group, cards: group.cards.map(cardOf) })),
    own: own.map(({ beganAt, ...one }) => ({ ...one, began: momentOf(beganAt) })),
    lineLostSince: momentOf(lineLostAt),
  };
}
