import { formatDuration } from '@/core/time/duration';
import type { Foretold } from '@/core/telling/foretell';

/** More columns than this tell no more. */
const MOST_TIMES = 7;

interface ForetoldTableProps {
  title: string;
  foretold: readonly Foretold[];
  channel: (id: number) => string;
}

/** Who would be told when, after a trouble was noticed: a row for each channel, a column for each time. */
export function ForetoldTable({ title, foretold, channel }: ForetoldTableProps) {
  const times = [...new Set(foretold.map(({ afterMs }) => afterMs))].sort((a, b) => a - b);
  const shown = times.slice(0, MOST_TIMES);
  const channels = [...new Set(foretold.map(({ channelId }) => channelId))];
  return (
    // A table wider than the window is moved by keys, too.
    <section className="sheet overflow-x-auto p-5" aria-label={title} tabIndex={0}>
      <h2>{title}</h2>
      {channels.length === 0 ? (
        <p className="text-down-text mt-1">Nobody would be told.</p>
      ) : (
        <table className="mt-2 text-left text-[0.875rem]">
          <thead className="text-muted">
            <tr>
              <th className="pr-5 font-normal">who</th>
              {shown.map((at) => (
                <th key={at} className="figures border-rule border-l px-3 font-normal whitespace-nowrap">
                  {at === 0 ? 'at once' : `+${formatDuration(at)}`}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {channels.map((id) => (
              <tr key={id} className="border-rule border-t">
                <th className="py-1.5 pr-5 font-semibold whitespace-nowrap">{channel(id)}</th>
                {shown.map((at) => {
                  const one = foretold.find(({ channelId, afterMs }) => channelId === id && afterMs === at);
                  const words =
                    one && (one.rule === 'again' ? 'again' : one.rule === 'hours-opened' ? 'held' : 'told');
                  return (
                    <td key={at} className="border-rule border-l px-3">
                      {words && (
                        <span
                          className={one.rule === 'again' ? 'text-muted' : 'text-down-text font-semibold'}
                        >
                          {words}
                        </span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {times.length > shown.length && <p className="text-muted mt-2 text-[0.8438rem]">And so on.</p>}
    </section>
  );
}
