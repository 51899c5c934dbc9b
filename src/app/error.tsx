'use client';

import { Button } from '@/ui/basic/button';
import { Entrance } from '@/ui/shell/entrance';

export default function ErrorScreen({ reset }: { reset: () => void }) {
  return (
    <Entrance
      sentence="This screen could not be drawn."
      below="The fault was noted in the log. Looks and check-ins go on."
    >
      <Button look="strong" onClick={reset}>
        Try again
      </Button>
    </Entrance>
  );
}
