import { Fragment, type ReactNode } from 'react';
import type { PagePhrase } from '@/core/languages/page-phrases/en';
import type { MomentForm } from '@/core/languages/moments';
import { useSheet } from '../frame/context';

/** Stands in a phrase where an element will; nobody types it. */
const MARK = '\u0001';

/** A phrase of which some values are elements. */
export function Said({ phrase, values }: { phrase: PagePhrase; values: Record<string, ReactNode> }) {
  const { speech } = useSheet();
  const flat = Object.fromEntries(
    Object.entries(values).map(([name, value]) => [
      name,
      typeof value === 'string' || typeof value === 'number' ? value : `${MARK}${name}${MARK}`,
    ]),
  );
  const parts = speech.say(phrase, flat).split(MARK);
  return parts.map((part, i) => <Fragment key={i}>{i % 2 === 1 ? values[part] : part}</Fragment>);
}

interface AtProps {
  at: number;
  form?: MomentForm;
  /** Always by the page's own clocks: it is read beside a scale that is. */
  fixed?: boolean;
}

/** A moment on the page's clocks; the visitor's own are put in by script. */
export function At({ at, form = 'moment', fixed = false }: AtProps) {
  const { speech, zone } = useSheet();
  return (
    <time dateTime={new Date(at).toISOString()} data-form={fixed ? undefined : form}>
      {speech.at(at, zone, form)}
    </time>
  );
}
