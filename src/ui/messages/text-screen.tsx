import type { ComponentProps } from 'react';
import { Crumbs, MESSAGES, TEXTS } from '@/ui/basic/crumbs';
import { TextForm } from './text-form';

/** Words of one's own, new or to be changed. */
export function TextScreen(props: ComponentProps<typeof TextForm>) {
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES, TEXTS]} />
        <h1>In which words?</h1>
      </div>
      <TextForm {...props} />
    </div>
  );
}
