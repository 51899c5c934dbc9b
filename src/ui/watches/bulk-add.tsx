'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button, ButtonLink } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { AreaField, FormMessage } from '@/ui/form/fields';
import { useApiForm } from '@/ui/form/use-api-form';
import { Table, Tick } from '@/ui/basic/table';
import type { BulkVerdict } from '@/core/imports/bulk-verdict';

interface Row extends BulkVerdict {
  ticked: boolean;
  /** What came of making it: “yes”, or why not. */
  made: string | null;
}

/** So many are made between two words on how far it is. */
const AT_ONCE = 100;

interface BatchLine {
  problem: string | null;
}

const EXAMPLE = `booking.ternferry.test/crossings
rota.ternferry.test
kiosk-north.ternferry.test:9100`;

/** Adds many watches from a pasted list: judged line by line, then made with a count of how far it is. */
export function BulkAdd() {
  const router = useRouter();
  const form = useApiForm({ text: '' });
  const [rows, setRows] = useState<Row[] | null>(null);
  const [progress, setProgress] = useState('');
  const judge = async () => {
    setProgress('Judging…');
    const judged = await form.send<BulkVerdict[]>('POST', '/bulk-drafts', form.values);
    setProgress('');
    if (!judged) return;
    setRows(
      judged.value.map((row) => ({
        ...row,
        ticked: row.problem === null && !row.note?.startsWith('It is watched already'),
        made: null,
      })),
    );
  };
  const change = (line: number, part: Partial<Row>) =>
    setRows((old) => old?.map((row) => (row.line === line ? { ...row, ...part } : row)) ?? null);
  const chosen = (rows ?? []).filter((row) => row.ticked && row.watch && row.made !== 'yes');
  const make = async () => {
    let failed = 0;
    for (let done = 0; done < chosen.length; done += AT_ONCE) {
      const part = chosen.slice(done, done + AT_ONCE);
      setProgress(`Making ${done + 1} to ${done + part.length} of ${chosen.length}…`);
      const watches = part.map((row) => row.watch!);
      const result = await callApi<BatchLine[]>('POST', '/watch-batches', { watches });
      for (const [i, { line }] of part.entries()) {
        const problem = result.ok ? result.value[i]!.problem : problemText(result);
        if (problem !== null) failed += 1;
        change(line, { made: problem ?? 'yes' });
      }
    }
    setProgress('');
    if (failed > 0) return form.say(`${failed} of ${chosen.length} could not be made; each says why.`);
    router.push('/');
    router.refresh();
  };
  return (
    <div className="flex flex-col gap-4">
      <AreaField
        label="Addresses or CSV"
        help="Lines that begin with # are passed over. A first line may name the columns, in any order: address, name, section, kind, every (in seconds, or as 30 s or 5 min)."
        rows={8}
        placeholder={EXAMPLE}
        spellCheck={false}
        {...form.field('text')}
      />
      <div className="flex items-center gap-3">
        <Button look="strong" disabled={form.busy} onClick={() => void judge()}>
          Judge each line
        </Button>
        <ButtonLink href="/watches/new">Leave it</ButtonLink>
      </div>
      <FormMessage text={form.said?.text ?? null} />
      {rows && rows.length === 0 && <p className="text-muted">There is nothing in this list.</p>}
      {rows && rows.length > 0 && (
        <>
          <Table
            className="rows text-[0.9062rem]"
            heads={[
              // oxlint-disable-next-line react/jsx-key -- a head and its width, no list
              [<span className="sr-only">make it</span>, 'w-8'],
              ['line', 'w-12'],
              ['name'],
              ['kind', 'w-28'],
              ['verdict'],
            ]}
          >
            {rows.map((row) => (
              <tr key={row.line} className="border-rule border-t align-top">
                <td className="py-1.5">
                  <Tick
                    label={`Make line ${row.line}`}
                    checked={row.ticked}
                    disabled={row.watch === null || row.made === 'yes'}
                    onTick={(ticked) => change(row.line, { ticked })}
                  />
                </td>
                <td className="figures text-muted py-1.5">{row.line}</td>
                <td className="py-1.5 pr-3 break-all">{row.name || row.text}</td>
                <td className="py-1.5">{row.kind}</td>
                <td
                  className={`py-1.5 ${row.problem || (row.made && row.made !== 'yes') ? 'text-down-text' : ''}`}
                >
                  {row.made === 'yes' ? 'made' : (row.made ?? row.problem ?? row.note ?? 'fits')}
                </td>
              </tr>
            ))}
          </Table>
          <div className="flex items-center gap-3">
            <Button
              look="strong"
              disabled={form.busy || chosen.length === 0}
              onClick={() => void form.whileBusy(make)}
            >
              {`Make ${chosen.length} ${chosen.length === 1 ? 'watch' : 'watches'}`}
            </Button>
            <span role="status" className="text-muted">
              {progress}
            </span>
          </div>
        </>
      )}
    </div>
  );
}
