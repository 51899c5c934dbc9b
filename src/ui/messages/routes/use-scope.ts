import { useEffect, useState } from 'react';
import type { Selection, WatchFacts } from '@/core/telling/route';
import type { Tells } from '@/core/settings/tells';
import type { Urgency } from '@/core/settings/urgency';
import { tellsOf } from '@/core/telling/happen';
import { callApi, problemText } from '@/ui/basic/call-api';
import type { RouteScope } from '@/views/messages/route-scope';

interface WireScope {
  watches: number;
  example:
    | (Pick<WatchFacts, 'id' | 'name' | 'kind' | 'section' | 'tags'> & {
        urgency: Urgency;
        tells: Tells;
        tellsTo: number[];
      })
    | null;
}

function scopeOf({ watches, example }: WireScope): RouteScope {
  if (!example) return { watches, example };
  const { tells, tellsTo, ...facts } = example;
  const telling = tellsOf({ tells, tellsTo });
  return { watches, example: { ...facts, ...(telling && { tells: telling }) } };
}

/** It is asked for so long after the last tick. */
const REST_MS = 80;

/** What a selection is about, as it is put together; what was known last stays until more is. */
export function useScope(
  selection: Selection,
  kept: RouteScope,
): { scope: RouteScope; problem: string | null } {
  const asked = JSON.stringify(selection);
  const [first] = useState(asked);
  const [last, setLast] = useState<{ scope: RouteScope; problem: string | null }>({
    scope: kept,
    problem: null,
  });
  const asKept = asked === first;
  useEffect(() => {
    if (asKept) return;
    let over = false;
    const ask = async () => {
      const watches = JSON.parse(asked) as Selection;
      const answer = await callApi<WireScope>('POST', '/route-scopes', { watches });
      if (over) return;
      setLast(({ scope }) =>
        answer.ok ? { scope: scopeOf(answer.value), problem: null } : { scope, problem: problemText(answer) },
      );
    };
    const timer = setTimeout(() => void ask(), REST_MS);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [asked, asKept]);
  return asKept ? { scope: kept, problem: null } : last;
}
