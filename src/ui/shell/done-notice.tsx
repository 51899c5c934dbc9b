'use client';

import { toast } from 'sonner';
import { Button } from '@/ui/basic/button';

/** So long what was done can be taken back from where it is said; elsewhere for longer. */
const STAYS_MS = 15_000;

interface DoneNotice {
  said: string;
  /** Takes it back; answers what was wrong, or null. Left out where that cannot be done from here. */
  takeBack?: () => Promise<string | null>;
}

/** Says what was done, whatever is drawn anew by it, and offers to take it back. */
export function sayDone({ said, takeBack }: DoneNotice): void {
  toast.custom(
    (id) => (
      <div className="sheet flex w-full items-center gap-3 px-4 py-3 shadow-lg">
        <p className="min-w-0 flex-1">{said}</p>
        {takeBack && (
          <Button
            onClick={() =>
              void takeBack().then((problem) => {
                toast.dismiss(id);
                if (problem !== null)
                  toast.custom(() => (
                    <p role="alert" className="sheet w-full px-4 py-3 shadow-lg">
                      {problem}
                    </p>
                  ));
              })
            }
          >
            Take it back
          </Button>
        )}
      </div>
    ),
    { duration: STAYS_MS },
  );
}
