'use client';

import type { ReactNode } from 'react';

/** What a form knows of a setting that may come from farther away. */
export interface SharedForm {
  /** Whether it is set here. */
  owns: (name: string) => boolean;
  /** What it would be if it were not set here. */
  held: (name: string) => unknown;
  /** The same in words. */
  heldText: (name: string) => string;
  /** Where that comes from, in words. */
  heldFrom: (name: string) => string;
  /** Sets it here, beginning with what holds. */
  take: (name: string) => void;
  giveBack: (name: string) => void;
  /** What the two buttons are called, where it is not one watch or one place that is set. */
  words?: { take: string; giveBack: string; set: string };
}

const WORDS = { take: 'Set here', giveBack: 'Give back', set: 'set here' };

interface SharedFieldProps {
  name: string;
  label: string;
  form: SharedForm;
  /** The field itself, shown while it is set here. */
  children: ReactNode;
}

const LINK = 'text-ink underline underline-offset-2';

/** A setting with where its value comes from: one click sets it here, one gives it back. */
export function SharedField({ name, label, form, children }: SharedFieldProps) {
  const words = form.words ?? WORDS;
  if (!form.owns(name)) {
    return (
      <div role="group" aria-label={label} data-setting={name} className="flex flex-col gap-1">
        <span className="font-semibold">{label}</span>
        <span className="border-rule bg-quiet min-h-[42px] rounded-lg border border-dashed px-3 py-2">
          {form.heldText(name)}
        </span>
        <p className="text-muted text-[0.8438rem]">
          {form.heldFrom(name)} ·{' '}
          <button type="button" className={LINK} onClick={() => form.take(name)}>
            {words.take}
          </button>
        </p>
      </div>
    );
  }
  return (
    <div data-setting={name} className="flex flex-col gap-1">
      {children}
      <p className="text-muted text-[0.8438rem]">
        {words.set} ·{' '}
        <button type="button" className={LINK} onClick={() => form.giveBack(name)}>
          {words.giveBack}
        </button>{' '}
        ({form.heldText(name)}, {form.heldFrom(name)})
      </p>
    </div>
  );
}
