'use client';

import { useState } from 'react';
import { callApi, problemText } from '@/ui/basic/call-api';
import { SelectField } from '@/ui/form/fields';

interface TextChoiceProps {
  texts: { id: number; name: string }[];
  /** What it is filled in with. */
  facts: { outageId: number | null; pageId: number | null; watchIds: number[] };
  onFilled: (text: { title: string; body: string }) => void;
}

/** Begins with a text that was kept: filled in, and then yours to change. */
export function TextChoice({ texts, facts, onFilled }: TextChoiceProps) {
  const [said, setSaid] = useState('');
  if (texts.length === 0) return null;
  const fill = async (id: string) => {
    if (id === '') return;
    const result = await callApi<{ title: string; body: string }>('POST', `/public-texts/${id}/fill`, facts);
    setSaid(result.ok ? '' : problemText(result));
    if (result.ok) onFilled(result.value);
  };
  return (
    <SelectField
      label="Begin with a text you keep"
      value=""
      error={said === '' ? undefined : said}
      options={[
        { value: '', text: 'choose one…' },
        ...texts.map(({ id, name }) => ({ value: String(id), text: name })),
      ]}
      onChoose={(id) => void fill(id)}
    />
  );
}
