'use client';

import { useState } from 'react';
import type { ReadyLine } from '@/core/imports/ready-lines';
import { CopyLine } from '@/ui/basic/copy-line';
import { SelectField } from '@/ui/form/fields';

/** Lines ready to paste; one is chosen by what starts the job. */
export function ReadyLines({ lines }: { lines: readonly ReadyLine[] }) {
  const [id, setId] = useState(lines[0]!.id);
  const line = lines.find((one) => one.id === id)!;
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="What starts the job"
        value={id}
        options={lines.map((one) => ({ value: one.id, text: one.title }))}
        onChoose={setId}
      />
      <p className="text-muted text-[0.8438rem]">{line.help}</p>
      <CopyLine label={line.title} text={line.text} />
    </div>
  );
}
