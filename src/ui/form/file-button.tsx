'use client';

import { useRef } from 'react';
import { Button } from '@/ui/basic/button';

const MOST_BYTES = 2_000_000;

interface FileButtonProps {
  /** What the button says. */
  children: string;
  /** What the file is, for those who do not see the button. */
  label: string;
  accept?: string;
  onRead: (text: string) => void | Promise<void>;
  /** Told what was expected and what came when the file cannot be taken. */
  onRefused: (problem: string) => void;
}

/** Reads a text from a file, as it is; nothing leaves the browser. */
export function FileButton({ children, label, accept, onRead, onRefused }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  const read = async (file: File) => {
    if (file.size > MOST_BYTES) {
      return onRefused(`Expected at most 2 MB, got ${(file.size / 1e6).toFixed(1)} MB.`);
    }
    let text: string;
    try {
      text = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(await file.arrayBuffer());
    } catch {
      return onRefused(`Expected text in UTF-8; ${file.name} is in something else.`);
    }
    await onRead(text);
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="sr-only"
        aria-label={label}
        tabIndex={-1}
        onChange={async (event) => {
          const file = event.target.files?.[0];
          if (file) await read(file);
          event.target.value = '';
        }}
      />
      <Button onClick={() => input.current?.click()}>{children}</Button>
    </>
  );
}
