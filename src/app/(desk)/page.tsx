import { filterFromQuery, filterToQuery } from '@/core/settings/watch-filter';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { ButtonLink } from '@/ui/basic/button';
import { SideBySide } from '@/ui/charts/side-by-side';
import { Choice } from '@/ui/form/choice';
import { FilterBar } from '@/ui/overview/filter-bar';
import { DeskHead } from '@/ui/overview/desk-head';
import { LiveDesk } from '@/ui/overview/live-desk';
import { RANGES, type RangeName } from '@/views/overview/lines';
import { fetchOverview } from '@/views/overview/overview';
import { laterRows } from '@/app/later-rows';
import { queryOf, type AskedQuery } from '@/app/query-of';
import { requireRight } from '@/app/session';

const RANGE_TEXTS: Record<RangeName, string> = {
  '6h': '6 h',
  '24h': '24 h',
  '7d': '7 d',
  '30d': '30 d',
  '90d': '90 d',
};

export default async function Overview({ searchParams }: { searchParams: Promise<AskedQuery> }) {
  await requireRight('look');
  const asked = queryOf(await searchParams);
  const wanted = asked.get('range') ?? '';
  const range: RangeName = wanted in RANGES ? (wanted as RangeName) : '24h';
  const worstFirst = asked.get('order') === 'worst';
  const filter = filterFromQuery(asked);
  const { db, environment, engine } = serverContext();
  const view = await fetchOverview(
    db,
    { range, worstFirst, filter },
    { now: requestTime(), zone: environment.zone, engineAnswers: await engine.isConnected() },
  );
  const { rows, shown, range: _range, choices: _choices, kept: _kept, ...head } = view;
  const narrowed = filterToQuery(filter);
  const lines = [narrowed, `range=${range}`, worstFirst && 'worstFirst=true'].filter(Boolean).join('&');
  const href = (r: string, order: string) =>
    `/?${[`range=${r}`, order && `order=${order}`, narrowed].filter(Boolean).join('&')}`;
  const order = worstFirst ? 'worst' : '';
  return (
    <div className="flex flex-col gap-5">
      <LiveDesk
        head={head}
        range={range}
        spanMs={view.range.to - view.range.from}
        inPlace={narrowed === '' && !worstFirst}
      >
        <DeskHead />
        {view.all === 0 ? (
          <FirstWatch />
        ) : (
          <div>
            <div className="mb-2 flex flex-wrap items-end gap-x-3 gap-y-2">
              <h2>Side by side</h2>
              <p className="text-muted text-[0.875rem] max-sm:hidden">
                one clock for every watch, so troubles that belong together line up
              </p>
              <div className="ml-auto flex flex-wrap gap-3">
                <Choice
                  label="Range"
                  options={(Object.keys(RANGES) as RangeName[]).map((r) => ({
                    href: href(r, order),
                    text: RANGE_TEXTS[r],
                    chosen: r === range,
                  }))}
                />
                <Choice
                  label="Order"
                  options={[
                    { href: href(range, ''), text: 'By section', chosen: !worstFirst },
                    { href: href(range, 'worst'), text: 'Worst first', chosen: worstFirst },
                  ]}
                />
              </div>
            </div>
            <div className="mb-2 flex flex-wrap items-start gap-x-3 gap-y-2">
              <FilterBar
                path="/"
                rest={{ ...(range !== '24h' && { range }), ...(worstFirst && { order }) }}
                filter={filter}
                choices={view.choices}
                kept={view.kept}
                shown={view.shown}
                all={view.all}
              />
              <div className="ml-auto">
                <ButtonLink href={narrowed === '' ? '/watches' : `/watches?${narrowed}`}>
                  Change several
                </ButtonLink>
              </div>
            </div>
            <SideBySide
              rows={rows}
              shown={shown}
              later={laterRows(lines, rows.length, shown)}
              bySection={!worstFirst}
              range={view.range}
              rangeLabel={RANGE_TEXTS[range]}
              readAt={view.now}
            />
          </div>
        )}
      </LiveDesk>
    </div>
  );
}

function FirstWatch() {
  return (
    <section className="sheet flex max-w-2xl flex-col items-start gap-3 p-6">
      <h2>A watch is one thing kept an eye on.</h2>
      <p>
        Type the address of a page, and Calm Lantern looks at it every minute and says what broke and why. Or
        give a scheduled job an address to report to, and hear when it stays away.
      </p>
      <p className="text-muted">
        For example: <span className="figures">booking.ternferry.test</span>
      </p>
      <ButtonLink href="/watches/new" look="strong">
        Add the first watch
      </ButtonLink>
    </section>
  );
}
