'use client';

import { AlertDialog } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { Button } from './button';

interface ConfirmProps {
  trigger: string;
  title: string;
  children: ReactNode;
  action: string;
  /** Returns what went wrong, or null. */
  onConfirm: () => Promise<string | null>;
}

/** A destructive action, asked once more. */
export function Confirm({ trigger, title, children, action, onConfirm }: ConfirmProps) {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <AlertDialog.Root open={open} onOpenChange={setOpen}>
      <AlertDialog.Trigger asChild>
        <Button>{trigger}</Button>
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 bg-black/50" />
        <AlertDialog.Content className="sheet fixed top-1/4 left-1/2 w-[min(30rem,92vw)] -translate-x-1/2 p-6">
          <AlertDialog.Title>{title}</AlertDialog.Title>
          <AlertDialog.Description className="text-muted my-3">{children}</AlertDialog.Description>
          {problem && (
            <p role="alert" className="text-down-text mb-3 font-semibold">
              {problem}
            </p>
          )}
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Keep it</Button>
            </AlertDialog.Cancel>
            <Button
              look="danger"
              disabled={busy}
              onClick={async () => {
                setBusy(true);
                const refused = await onConfirm();
                setBusy(false);
                setProblem(refused);
                if (refused === null) setOpen(false);
              }}
            >
              {action}
            </Button>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
