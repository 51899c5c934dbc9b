import type { ComponentProps } from 'react';

interface OwnFormProps extends Omit<ComponentProps<'form'>, 'onSubmit' | 'noValidate'> {
  onSend: () => unknown;
  /** Stands on a sheet of its own. */
  sheet?: boolean;
}

/** A form that is sent by code: what is wrong with it is said by that code, and not by the browser. */
export function OwnForm({ onSend, sheet = false, ...rest }: OwnFormProps) {
  return (
    <form
      noValidate
      className={sheet ? 'sheet flex flex-col gap-4 p-5' : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        void onSend();
      }}
      {...rest}
    />
  );
}
