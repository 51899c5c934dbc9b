'use client';

import { ArrowDown, ArrowUp, Plus, X, type LucideIcon } from 'lucide-react';
import { useId } from 'react';
import type { ColumnDescription, FieldDescription } from '@/core/settings/field-description';
import { Button } from '@/ui/basic/button';
import { AreaField, Field, INPUT_CLASS, SwitchField, TextField, SelectField } from '@/ui/form/fields';
import { isKept, type Row, type SettingValue } from './setting-value';
import { WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';

interface ProbeFieldProps {
  field: FieldDescription;
  value: SettingValue | undefined;
  onChange: (value: SettingValue) => void;
  /** All errors of the form, by the path of their field. */
  errors: Record<string, string>;
  watches: readonly PickableWatch[];
  autoFocus?: boolean;
}

/** One field of a probe's settings, with the control its description asks for. */
export function ProbeField({ field, value, onChange, errors, watches, autoFocus }: ProbeFieldProps) {
  const { label, help, placeholder } = field;
  const error = errors[`settings.${field.name}`];
  const text = typeof value === 'string' ? value : '';
  if (isKept(value)) return <SecretField {...{ field, value, onChange, error }} />;
  switch (field.control) {
    case 'textarea':
      return (
        <AreaField
          {...{ label, help, placeholder, error }}
          value={text}
          onChange={(event) => onChange(event.target.value)}
        />
      );
    case 'switch':
      return (
        <SwitchField
          {...{ label, help, error }}
          checked={value === true}
          onChange={(event) => onChange(event.target.checked)}
        />
      );
    case 'select':
      return (
        <SelectField
          {...{ label, help, error }}
          value={text}
          options={field.options ?? []}
          onChoose={onChange}
        />
      );
    case 'secret':
    case 'secret-area':
      return <SecretField {...{ field, value, onChange, error }} />;
    case 'rows':
      return (
        <RowsField {...{ field, onChange, errors }} rows={Array.isArray(value) ? (value as Row[]) : []} />
      );
    case 'watches':
      return (
        <WatchPicker
          {...{ label, help, error, watches }}
          chosen={Array.isArray(value) ? (value as number[]) : []}
          onChange={onChange}
        />
      );
    default:
      return (
        <TextField
          {...{ label, help, placeholder, error, autoFocus }}
          inputMode={field.control === 'number' ? 'decimal' : undefined}
          value={text}
          onChange={(event) => onChange(event.target.value)}
        />
      );
  }
}

function SecretField({
  field: { label, help, control },
  value,
  onChange,
  error,
}: Pick<ProbeFieldProps, 'field' | 'value' | 'onChange'> & { error?: string }) {
  if (isKept(value)) {
    return (
      <Field label={label} help={help} error={error}>
        {(props) => (
          <div className="flex items-center gap-3">
            <output {...props} className="text-muted">
              kept sealed
            </output>
            <Button onClick={() => onChange('')}>Replace or remove</Button>
          </div>
        )}
      </Field>
    );
  }
  const common = { label, help, error, value: typeof value === 'string' ? value : '', autoComplete: 'off' };
  return control === 'secret' ? (
    <TextField {...common} type="password" onChange={(event) => onChange(event.target.value)} />
  ) : (
    <AreaField {...common} spellCheck={false} onChange={(event) => onChange(event.target.value)} />
  );
}

function emptyRow(columns: readonly ColumnDescription[]): Row {
  return Object.fromEntries(columns.map((column) => [column.name, column.options?.[0] ?? '']));
}

interface RowsFieldProps {
  field: FieldDescription;
  rows: Row[];
  onChange: (rows: Row[]) => void;
  errors: Record<string, string>;
}

/** A list of rows: a few short columns stand side by side, more of them one below the other. */
function RowsField({ field, rows, onChange, errors }: RowsFieldProps) {
  const id = useId();
  const columns = field.columns ?? [];
  const wide = columns.length <= 3;
  const change = (i: number, name: string, value: string) =>
    onChange(rows.map((row, at) => (at === i ? { ...row, [name]: value } : row)));
  return (
    <fieldset aria-describedby={`${id}-help`} className="col-span-full flex flex-col gap-2">
      <legend className="font-semibold">{field.label}</legend>
      <p id={`${id}-help`} className="text-muted text-[0.8438rem]">
        {field.help}
      </p>
      {errors[`settings.${field.name}`] && (
        <p className="text-down-text text-[0.875rem] font-semibold">{errors[`settings.${field.name}`]}</p>
      )}
      {wide && rows.length > 0 && (
        <div aria-hidden className="text-muted grid grid-cols-3 gap-2 pr-10 pl-7 text-[0.8438rem]">
          {columns.map((column) => (
            <span key={column.name}>{column.label}</span>
          ))}
        </div>
      )}
      {rows.map((row, i) => (
        <div
          key={i}
          className={wide ? 'flex items-start gap-2' : 'border-rule flex items-start gap-2 border-t pt-3'}
        >
          <span className="figures text-muted w-5 pt-2 text-[0.8125rem]">{i + 1}</span>
          <div className={`grid min-w-0 flex-1 gap-2 ${wide ? 'grid-cols-3' : 'sm:grid-cols-2'}`}>
            {columns.map((column) => (
              <Cell
                key={column.name}
                column={column}
                hideLabel={wide}
                row={i + 1}
                value={row[column.name] ?? ''}
                error={errors[`settings.${field.name}[${i}].${column.name}`]}
                onChange={(value) => change(i, column.name, value)}
              />
            ))}
          </div>
          <div className={wide ? 'flex' : 'flex flex-col'}>
            <RowButton
              label={`Remove row ${i + 1} of ${field.label}`}
              onClick={() => onChange(rows.filter((_, at) => at !== i))}
              Icon={X}
            />
            {field.ordered && rows.length > 1 && (
              <>
                <RowButton
                  label={`Move row ${i + 1} of ${field.label} up`}
                  disabled={i === 0}
                  onClick={() => onChange(swapped(rows, i - 1))}
                  Icon={ArrowUp}
                />
                <RowButton
                  label={`Move row ${i + 1} of ${field.label} down`}
                  disabled={i === rows.length - 1}
                  onClick={() => onChange(swapped(rows, i))}
                  Icon={ArrowDown}
                />
              </>
            )}
          </div>
        </div>
      ))}
      <div>
        <Button onClick={() => onChange([...rows, emptyRow(columns)])}>
          <Plus size={15} aria-hidden className="inline" /> Add {rows.length === 0 ? 'one' : 'another'}
        </Button>
      </div>
    </fieldset>
  );
}

/** Rows with the one at a place and the next in each other's. */
function swapped(rows: readonly Row[], at: number): Row[] {
  return [...rows.slice(0, at), rows[at + 1]!, rows[at]!, ...rows.slice(at + 2)];
}

interface RowButtonProps {
  label: string;
  disabled?: boolean;
  onClick: () => void;
  Icon: LucideIcon;
}

function RowButton({ label, disabled, onClick, Icon }: RowButtonProps) {
  return (
    <button
      type="button"
      className="text-muted hover:text-ink rounded p-2 disabled:invisible"
      aria-label={label}
      disabled={disabled}
      onClick={onClick}
    >
      <Icon size={16} aria-hidden />
    </button>
  );
}

interface CellProps {
  column: ColumnDescription;
  hideLabel: boolean;
  row: number;
  value: string;
  error?: string;
  onChange: (value: string) => void;
}

function Cell({ column, hideLabel, row, value, error, onChange }: CellProps) {
  const id = useId();
  const common = {
    id,
    className: INPUT_CLASS,
    value,
    placeholder: column.placeholder,
    'aria-label': `${column.label}, row ${row}`,
    'aria-invalid': error ? true : undefined,
  };
  return (
    <div className="min-w-0">
      {!hideLabel && (
        <label htmlFor={id} className="text-muted block text-[0.8438rem]">
          {column.label}
        </label>
      )}
      {column.control === 'select' ? (
        <select {...common} onChange={(event) => onChange(event.target.value)}>
          {column.options?.map((option) => (
            <option key={option}>{option}</option>
          ))}
        </select>
      ) : column.control === 'textarea' ? (
        <textarea {...common} rows={2} onChange={(event) => onChange(event.target.value)} />
      ) : (
        <input {...common} onChange={(event) => onChange(event.target.value)} />
      )}
      {error && <p className="text-down-text text-[0.8438rem] font-semibold">{error}</p>}
    </div>
  );
}
