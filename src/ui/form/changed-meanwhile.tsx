'use client';

import { Button } from '@/ui/basic/button';

interface ChangedMeanwhileProps {
  detail: string;
  busy: boolean;
  /** Saves what is typed over what is there now. */
  onOver: () => void;
}

/** Somebody else has changed what is changed here; what was typed stays, and whoever typed it decides. */
export function ChangedMeanwhile({ detail, busy, onOver }: ChangedMeanwhileProps) {
  return (
    <div role="alert" className="border-late bg-wash flex flex-col gap-3 rounded-lg border-l-4 px-4 py-3">
      <p>{detail} What you typed is still here.</p>
      <div className="flex flex-wrap gap-3">
        {/* Not a link within the desk: that would take what was typed away. */}
        <a href="" target="_blank" className="underline underline-offset-2" rel="noreferrer">
          See what is there now
        </a>
        <Button disabled={busy} onClick={onOver}>
          Save mine over it
        </Button>
      </div>
    </div>
  );
}
