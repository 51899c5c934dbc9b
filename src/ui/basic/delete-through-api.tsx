'use client';

import { useRouter } from 'next/navigation';
import { callApi } from './call-api';
import { Confirm } from './confirm';

interface DeleteProps {
  path: string;
  title: string;
  explanation: string;
  /** Where to go afterwards; stays when left out. */
  then?: string;
  trigger?: string;
}

/** Deletes something through the API, asked once more. */
export function DeleteThroughApi({ path, title, explanation, then, trigger = 'Delete' }: DeleteProps) {
  const router = useRouter();
  return (
    <Confirm
      trigger={trigger}
      title={title}
      action="Yes, do it"
      onConfirm={async () => {
        const result = await callApi('DELETE', path);
        if (!result.ok) return result.detail;
        if (then) router.push(then);
        router.refresh();
        return null;
      }}
    >
      {explanation}
    </Confirm>
  );
}
