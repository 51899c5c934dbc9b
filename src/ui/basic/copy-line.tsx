'use client';

import { Check, Copy } from 'lucide-react';
import { useState } from 'react';

/** A line to be pasted elsewhere, with a button that copies it. */
export function CopyLine({ label, text }: { label: string; text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setCopied(true);
      setTimeout(() => setCopied(false), 2000);
    } catch {
      // Without leave to write the clipboard the text can still be selected.
    }
  };
  return (
    <div>
      <p className="mb-1 text-[0.875rem] font-semibold">{label}</p>
      <div className="bg-quiet border-rule flex items-start gap-2 rounded-lg border p-2">
        <code className="figures max-h-72 min-w-0 flex-1 overflow-y-auto text-[0.8125rem] break-all whitespace-pre-wrap select-all">
          {text}
        </code>
        <button
          type="button"
          onClick={() => void copy()}
          aria-label={`Copy: ${label}`}
          className="text-muted hover:text-ink grid size-7 place-items-center"
        >
          {copied ? <Check size={16} aria-hidden /> : <Copy size={16} aria-hidden />}
        </button>
      </div>
      <span role="status" className="sr-only">
        {copied ? 'Copied' : ''}
      </span>
    </div>
  );
}
