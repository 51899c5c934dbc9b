'use client';

import { useEffect, useState } from 'react';
import { callApi } from '@/ui/basic/call-api';

/** A page is shown anew so long after the last key. */
const REST_MS = 500;
/** As wide as a desk sees it; shown smaller beside the form. */
const WIDTHS = { desk: 1120, phone: 390 } as const;
const SHOWN_WIDE = 520;

interface PreviewProps {
  /** What is sent for it; anew whenever that changes. */
  body: unknown;
  /** What stands above it. */
  title: string;
}

function Choice<T extends string>({
  label,
  chosen,
  options,
  onChoose,
}: {
  label: string;
  chosen: T;
  options: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
}) {
  return (
    <span role="group" aria-label={label} className="flex gap-2">
      {options.map(([value, text]) => (
        <button
          key={value}
          type="button"
          aria-pressed={value === chosen}
          onClick={() => onChoose(value)}
          className="aria-pressed:font-semibold underline aria-pressed:no-underline"
        >
          {text}
        </button>
      ))}
    </span>
  );
}

/** The page as visitors will see it, drawn by what draws pages, while it is being typed. */
export function PagePreview({ body, title }: PreviewProps) {
  const [path, setPath] = useState<string | null>(null);
  const [light, setLight] = useState<'light' | 'dark'>('light');
  const [width, setWidth] = useState<keyof typeof WIDTHS>('desk');
  const [behind, setBehind] = useState(false);
  const sent = JSON.stringify(body);
  useEffect(() => {
    let over = false;
    const timer = setTimeout(() => {
      void callApi<{ path: string }>('POST', '/page-previews', JSON.parse(sent)).then((result) => {
        if (over) return;
        setBehind(!result.ok);
        if (result.ok) setPath(result.value.path);
      });
    }, REST_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [sent]);
  const scale = width === 'desk' ? SHOWN_WIDE / WIDTHS.desk : 1;
  return (
    <section aria-label={title} className="flex flex-col gap-2 text-[0.875rem]">
      <div className="text-muted flex flex-wrap justify-between gap-x-4">
        <h2 className="font-sans text-[0.875rem]">{title}</h2>
        <Choice
          label="Light of the preview"
          chosen={light}
          options={[
            ['light', 'by day'],
            ['dark', 'by night'],
          ]}
          onChoose={setLight}
        />
        <Choice
          label="Width of the preview"
          chosen={width}
          options={[
            ['desk', 'desk'],
            ['phone', 'phone'],
          ]}
          onChoose={setWidth}
        />
      </div>
      <div
        className="border-rule bg-card overflow-hidden rounded-lg border shadow-sm"
        style={{ width: Math.round(WIDTHS[width] * scale), height: 640, maxWidth: '100%' }}
      >
        {path === null ? (
          <p className="text-muted p-4">The page appears here as you type.</p>
        ) : (
          <iframe
            title={title}
            src={`${path}?light=${light}`}
            sandbox="allow-same-origin"
            style={{
              width: WIDTHS[width],
              height: 640 / scale,
              border: 0,
              transform: `scale(${scale})`,
              transformOrigin: '0 0',
            }}
          />
        )}
      </div>
      <p className="text-muted" role="status">
        {behind ? 'What is typed last cannot be shown yet; this is what stood before.' : ''}
      </p>
    </section>
  );
}
