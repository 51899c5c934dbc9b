import type { Span } from '@/core/history/spans';
import { troubledDays } from '@/core/pages/days';
import { publicWords } from '@/core/pages/line-words';
import { coarsePublic, PUBLIC_KINDS, type PublicKind, type PublicStretch } from '@/core/pages/public-line';
import { useSheet } from '../frame/context';
import { hrefTo } from '../frame/place';

/** How wide a line is drawn, in units of its own; it stretches with its column. */
const WIDE = 1000;
const HIGH = 24;
/** Trouble shorter than this is drawn this wide, so that it can be seen. */
const LEAST = 8;
/** Room for a finger, as far as the days beside leave it. */
const LEAST_HIT = 16;

/** The way of all stretches of one kind along the line: moves and strokes to the right. */
export function wayOf(line: readonly PublicStretch[], kind: PublicKind, range: Span): string {
  const scale = WIDE / (range.to - range.from);
  const round = (n: number) => Math.round(n * 10) / 10;
  return line
    .filter((stretch) => stretch.kind === kind)
    .map(({ from, to }) => {
      const wide = Math.max((to - from) * scale, kind === 'running' || kind === 'unknown' ? 0.1 : LEAST);
      const x = Math.min((from - range.from) * scale, WIDE - wide);
      return `M${round(x)} 12h${round(wide)}`;
    })
    .join('');
}

interface LineProps {
  label: string;
  /** Tells the lines of a sheet apart. */
  of: string;
  line: readonly PublicStretch[];
  range: Span;
  /** How many pieces it may be drawn in. */
  pieces: number;
  /** So many days with trouble lead to their sheets, the latest. */
  leads: number;
  span: string;
}

/** A service's history to the scale of time: thin while all is well, standing up where it is not. */
export function Line({ label, of, line, range, pieces, leads, span }: LineProps) {
  const { speech, zone, place } = useSheet();
  const drawn = coarsePublic(line, range, pieces);
  const words = publicWords(line, speech);
  const scale = WIDE / (range.to - range.from);
  const days = leads > 0 ? troubledDays(drawn, zone).slice(-leads) : [];
  return (
    <svg
      className="line"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      preserveAspectRatio="none"
      role={days.length > 0 ? 'group' : 'img'}
      aria-label={speech.say('line.label', { name: label, span, words })}
    >
      {PUBLIC_KINDS.map((kind) => {
        const d = wayOf(drawn, kind, range);
        return d && <path key={kind} className={`is-${kind}`} d={d} />;
      })}
      {days.map(({ day, worst, from, to }) => {
        const wide = Math.max(LEAST_HIT, (to - from) * scale);
        const x = Math.min(WIDE - wide, Math.max(0, ((from + to) / 2 - range.from) * scale - wide / 2));
        const said = speech.at((from + to) / 2, zone, 'short-day');
        return (
          <a
            key={day}
            href={`${hrefTo(place, { sheet: 'day', day })}#s${of}`}
            aria-label={speech.say('mark.label', {
              name: label,
              day: said,
              words: speech.say(`state.${worst}`),
            })}
          >
            <rect className="hit" x={x.toFixed(1)} y="0" width={wide.toFixed(1)} height={HIGH} />
          </a>
        );
      })}
    </svg>
  );
}
