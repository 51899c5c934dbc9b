'use client';

import { useState } from 'react';
import type { ReadyLine } from '@/core/imports/ready-lines';
import { CopyLine } from '@/ui/basic/copy-line';
import { INPUT_CLASS } from '@/ui/form/fields';

/** Lines ready to paste; one is chosen by what starts the job. */
export function ReadyLines({ lines }: { lines: readonly ReadyLine[] }) {
  const [id, setId] = useState(lines[0]!.id);
  const line = lines.find((one) => one.id === id)!;
  return (
    <div className="flex flex-col gap-2">
      <label className="flex flex-col gap-1">
        <span className="text-[0.875rem] font-semibold">What starts the job</span>
        <select className={INPUT_CLASS} value={id} onChange={(event) => setId(event.target.value)}>
          {lines.map((one) => (
            <option key={one.id} value={one.id}>
              {one.title}
            </option>
          ))}
        </select>
      </label>
      <p className="text-muted text-[0.8438rem]">{line.help}</p>
      <CopyLine label={line.title} text={line.text} />
    </div>
  );
}
