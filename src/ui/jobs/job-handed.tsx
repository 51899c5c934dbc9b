'use client';

import { countWatches } from '@/core/text/words';
import { CopyLine } from '@/ui/basic/copy-line';

export interface Made {
  made: { id: number; line: number; name: string }[];
  text: string;
  /** Types the wrapper into its place. */
  fetch: string;
  /** Tries one of the lines as cron would run it. */
  trial: string | null;
}

/** What was made, and the text to put back, with what is different in it. */
export function Handed({ made, before }: { made: Made; before: string }) {
  const old = before.split('\n');
  const now = made.text.split('\n');
  const same = old.length === now.length;
  const changed = same
    ? now.flatMap((line, i) => (line === old[i] ? [] : [{ line: i + 1, was: old[i]!, is: line }]))
    : [];
  return (
    <section className="flex flex-col gap-4" aria-label="What was made">
      <h2>Made {countWatches(made.made.length)}. Now hand this back:</h2>
      <CopyLine
        label={same ? 'The crontab, with the wrapper' : 'Drop-ins for the services'}
        text={made.text}
      />
      {changed.length > 0 && (
        <div>
          <h3 className="mb-1 font-sans text-[0.875rem] font-semibold">
            {changed.length === 1 ? 'One line' : `${changed.length} lines`} of {old.length} changed;
            everything else is as it was
          </h3>
          <div className="figures sheet overflow-x-auto p-3 text-[0.7812rem]">
            {changed.map(({ line, was, is }) => (
              <div key={line} className="border-rule border-t py-1 first:border-t-0">
                <p className="text-down-text whitespace-pre">
                  <span aria-label={`line ${line}, before`}>{line} −</span> {was}
                </p>
                <p className="text-fine whitespace-pre">
                  <span aria-label={`line ${line}, after`}>{line} +</span> {is}
                </p>
              </div>
            ))}
          </div>
        </div>
      )}
      {same && <CopyLine label="Before that, once, as root: the wrapper" text={made.fetch} />}
      {made.trial && (
        <CopyLine
          label="Then try one of the lines as cron will run it, with nothing of your own shell around it"
          text={made.trial}
        />
      )}
      <p className="text-muted text-[0.875rem]">
        Each watch stays “waiting” until its job has reported once. One whose first time passes without a
        report is told.
      </p>
    </section>
  );
}
