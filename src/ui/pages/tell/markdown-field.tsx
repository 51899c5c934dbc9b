'use client';

import { Bold, Italic, Link2, List } from 'lucide-react';
import { useRef, type ReactNode } from 'react';
import { Field, INPUT_CLASS } from '@/ui/form/fields';

interface MarkdownFieldProps {
  label: string;
  help?: string;
  error?: string;
  rows?: number;
  value: string;
  onType: (value: string) => void;
  /** More for the row above the text. */
  tools?: ReactNode;
}

interface Tool {
  label: string;
  icon: typeof Bold;
  /** What it makes of the text that is selected. */
  make: (selected: string) => string;
  /** The key it has beside Control. */
  hotkey?: string;
}

const TOOLS: Tool[] = [
  { label: 'Bold', icon: Bold, make: (text) => `**${text || 'bold'}**`, hotkey: 'b' },
  { label: 'Italic', icon: Italic, make: (text) => `*${text || 'italic'}*`, hotkey: 'i' },
  {
    label: 'List',
    icon: List,
    make: (text) =>
      (text || 'one')
        .split('\n')
        .map((line) => `- ${line}`)
        .join('\n'),
  },
  { label: 'Link', icon: Link2, make: (text) => `[${text || 'words'}](https://)` },
];

/** A text in Markdown with a small row of tools; Control+B and Control+I do the same. */
export function MarkdownField({ label, help, error, rows = 5, value, onType, tools }: MarkdownFieldProps) {
  const area = useRef<HTMLTextAreaElement>(null);
  const use = ({ make }: Tool) => {
    const field = area.current;
    if (!field) return;
    const { selectionStart: from, selectionEnd: to } = field;
    const made = make(value.slice(from, to));
    onType(value.slice(0, from) + made + value.slice(to));
    requestAnimationFrame(() => {
      field.focus();
      field.setSelectionRange(from, from + made.length);
    });
  };
  return (
    <Field label={label} help={help} error={error}>
      {(props) => (
        <div>
          <div
            role="toolbar"
            aria-label={`Tools for ${label}`}
            className="mb-1 flex flex-wrap items-center gap-1"
          >
            {TOOLS.map((tool) => (
              <button
                key={tool.label}
                type="button"
                aria-label={tool.label}
                title={tool.hotkey ? `${tool.label} (Control+${tool.hotkey.toUpperCase()})` : tool.label}
                onClick={() => use(tool)}
                className="text-muted hover:text-ink grid size-8 place-items-center rounded"
              >
                <tool.icon size={16} aria-hidden />
              </button>
            ))}
            {tools}
          </div>
          <textarea
            ref={area}
            rows={rows}
            className={INPUT_CLASS}
            {...props}
            value={value}
            onChange={(event) => onType(event.target.value)}
            onKeyDown={(event) => {
              const tool = TOOLS.find(({ hotkey }) => hotkey === event.key.toLowerCase());
              if (!tool || !(event.ctrlKey || event.metaKey)) return;
              event.preventDefault();
              use(tool);
            }}
          />
        </div>
      )}
    </Field>
  );
}
