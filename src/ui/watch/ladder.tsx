import type { Rung } from '@/core/causes/finding';

const BAR = {
  fine: 'bg-fine',
  failed: 'bg-down',
  'not-reached': 'border-t-[3px] border-dotted border-edge',
  unknown: 'border-t-[3px] border-dashed border-edge',
};
const WORDS = { fine: 'fine', failed: 'failed', 'not-reached': 'not reached', unknown: 'not known' };

/** The layers of one look in order; the one that broke stands out. With `notes`, what was seen on each. */
export function Ladder({ rungs, notes = false }: { rungs: readonly Rung[]; notes?: boolean }) {
  if (rungs.length === 0) return null;
  return (
    <ol className="my-3 flex gap-1" aria-label="How far the look came">
      {rungs.map((rung) => (
        <li key={rung.rung} className="min-w-0 flex-1">
          <div className={`h-[3px] ${BAR[rung.result]}`} />
          <span
            className={`block truncate pt-1 text-[0.7812rem] ${rung.result === 'failed' ? 'text-down-text font-bold' : 'text-muted'}`}
          >
            {rung.label}
            <span className="sr-only">: {WORDS[rung.result]}</span>
          </span>
          {notes && rung.note && (
            <span className="text-muted block text-[0.7812rem] break-words">{rung.note}</span>
          )}
        </li>
      ))}
    </ol>
  );
}
