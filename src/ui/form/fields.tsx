'use client';

import { useEffect, useId, useRef, type ComponentProps, type ReactNode } from 'react';

export const INPUT_CLASS =
  'w-full rounded-lg border border-edge bg-card px-3 py-2 text-ink placeholder:text-muted placeholder:italic aria-[invalid=true]:border-down';

interface FieldProps {
  label: string;
  help?: ReactNode;
  error?: string;
  children: (props: { id: string; 'aria-describedby'?: string; 'aria-invalid'?: boolean }) => ReactNode;
}

/** A label, its control, what it is for, and what is wrong with it. */
export function Field({ label, help, error, children }: FieldProps) {
  const id = useId();
  const described = [help ? `${id}-help` : '', error ? `${id}-error` : ''].filter(Boolean).join(' ');
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      {children({
        id,
        ...(described && { 'aria-describedby': described }),
        ...(error && { 'aria-invalid': true }),
      })}
      {error && (
        <p id={`${id}-error`} className="text-down-text text-[0.875rem] font-semibold">
          {error}
        </p>
      )}
      {help && (
        <p id={`${id}-help`} className="text-muted text-[0.8438rem]">
          {help}
        </p>
      )}
    </div>
  );
}

export function TextField({
  label,
  help,
  error,
  ...rest
}: { label: string; help?: ReactNode; error?: string } & ComponentProps<'input'>) {
  return (
    <Field label={label} help={help} error={error}>
      {(props) => <input className={INPUT_CLASS} {...props} {...rest} />}
    </Field>
  );
}

export function AreaField({
  label,
  help,
  error,
  ...rest
}: { label: string; help?: ReactNode; error?: string } & ComponentProps<'textarea'>) {
  return (
    <Field label={label} help={help} error={error}>
      {(props) => <textarea rows={4} className={INPUT_CLASS} {...props} {...rest} />}
    </Field>
  );
}

interface KeptPasswordProps extends ComponentProps<'input'> {
  label: string;
  error?: string;
  /** Whether one stands already: it is not shown, and stays where nothing is typed. */
  stands: boolean;
  /** What one that is typed has to be. */
  rule: string;
}

/** A password that is kept and never shown again. */
export function KeptPassword({ stands, rule, ...rest }: KeptPasswordProps) {
  const help = stands ? 'One stands already; leave it empty to keep it.' : rule;
  return <TextField type="password" autoComplete="new-password" help={help} {...rest} />;
}

export interface Option {
  value: string | number;
  text: string;
}

/** What can be chosen, by the words it is shown with, in their order. */
export function optionsOf(words: Readonly<Record<string, string>>): Option[] {
  return Object.entries(words).map(([value, text]) => ({ value, text }));
}

export function Options({ of }: { of: readonly Option[] }) {
  return of.map(({ value, text }) => (
    <option key={value} value={value}>
      {text}
    </option>
  ));
}

interface SelectFieldProps {
  label: string;
  help?: ReactNode;
  error?: string;
  className?: string;
  value: string;
  options: readonly Option[];
  onChoose: (value: string) => void;
}

/** One of a few. */
export function SelectField({
  label,
  help,
  error,
  className = '',
  value,
  options,
  onChoose,
}: SelectFieldProps) {
  return (
    <Field label={label} help={help} error={error}>
      {(props) => (
        <select
          {...props}
          className={`${INPUT_CLASS} ${className}`}
          value={value}
          onChange={(event) => onChoose(event.target.value)}
        >
          <Options of={options} />
        </select>
      )}
    </Field>
  );
}

interface OfferedFieldProps extends Omit<ComponentProps<'input'>, 'onChange' | 'value' | 'list'> {
  label: string;
  help?: ReactNode;
  error?: string;
  value: string;
  /** What is offered as it is typed; something else may be typed as well. */
  offers: readonly string[];
  onType: (value: string) => void;
}

/** A text that is mostly one of those there are already, such as a section or a time zone. */
export function OfferedField({ offers, onType, ...rest }: OfferedFieldProps) {
  const list = useId();
  return (
    <div>
      <TextField list={list} {...rest} onChange={(event) => onType(event.target.value)} />
      <datalist id={list}>
        {offers.map((offer) => (
          <option key={offer} value={offer} />
        ))}
      </datalist>
    </div>
  );
}

/** A tick box with its label beside it. */
export function SwitchField({
  label,
  help,
  error,
  ...rest
}: { label: string; help?: ReactNode; error?: string } & ComponentProps<'input'>) {
  const id = useId();
  return (
    <div className="flex flex-col gap-1">
      <label className="flex items-center gap-2 font-semibold">
        <input
          type="checkbox"
          className="accent-button size-4"
          aria-describedby={help ? `${id}-help` : undefined}
          {...rest}
        />
        {label}
      </label>
      {error && <p className="text-down-text text-[0.875rem] font-semibold">{error}</p>}
      {help && (
        <p id={`${id}-help`} className="text-muted text-[0.8438rem]">
          {help}
        </p>
      )}
    </div>
  );
}

/** A message about the whole form, read out when it appears; it takes no room before. */
export function FormMessage({ text, good = false }: { text: string | null; good?: boolean }) {
  const line = useRef<HTMLParagraphElement>(null);
  // A button that rests while it works loses the focus; what came of it is where to go on from.
  useEffect(() => {
    const lost = document.activeElement === null || document.activeElement === document.body;
    if (text !== null && lost) line.current?.focus({ preventScroll: true });
  }, [text]);
  return (
    <p
      ref={line}
      tabIndex={-1}
      role={good ? 'status' : 'alert'}
      className={`font-semibold outline-none empty:absolute ${good ? 'text-fine' : 'text-down-text'}`}
    >
      {text}
    </p>
  );
}
