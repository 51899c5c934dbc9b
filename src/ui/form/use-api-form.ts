import { useState, type Dispatch, type SetStateAction } from 'react';
import { callApi } from '@/ui/basic/call-api';

/** What was typed into any field. */
interface Typed {
  target: { value: string };
}

/** A form whose content goes to the API: what is typed, what was refused, and what came of it. */
export interface ApiForm<V extends object> {
  values: V;
  set: (change: Partial<V>) => void;
  /** The same for a change that depends on what stands there. */
  setValues: Dispatch<SetStateAction<V>>;
  /** What was refused, by field; cleared by the next try. */
  errors: Readonly<Record<string, string>>;
  /** The one sentence that belongs to no field. */
  said: { text: string; good: boolean } | null;
  say: (text: string, good?: boolean) => void;
  busy: boolean;
  /** Somebody else has changed what is changed here: what to say of it. */
  meanwhile: string | null;
  /** Says what was refused, by something else than `send`; an empty detail takes back what was said. */
  refuse: (detail: string, fields: Record<string, string>) => void;
  /** Rests the buttons for as long as some other work takes. */
  whileBusy: <T>(work: () => Promise<T>) => Promise<T>;
  /** What a text field needs. */
  field: (name: keyof V & string) => {
    value: string;
    error: string | undefined;
    onChange: (event: Typed) => void;
  };
  /**
   * Sends; answers what came, or null where it was refused, and says why. Nothing that was typed is lost. Where the
   * form has a version, what was changed by somebody else meanwhile is refused, unless it is to be written over.
   */
  send: <T>(method: string, path: string, body?: unknown, over?: boolean) => Promise<{ value: T } | null>;
}

interface FormOptions {
  /** A long form says at its end what was refused, though it stands at the fields too: they may be folded up. */
  long?: boolean;
  /**
   * Of what is changed here, as it was when the form was opened. The page around an open form is read anew from time
   * to time; a version that came with that is not the one of what was typed over.
   */
  version?: string;
}

export function useApiForm<V extends object>(
  initial: V | (() => V),
  { long = false, version }: FormOptions = {},
): ApiForm<V> {
  const [values, setValues] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [meanwhile, setMeanwhile] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [mine, setMine] = useState(version);
  const set = (change: Partial<V>) => setValues((old) => ({ ...old, ...change }));
  const say = (text: string, good = false) => setSaid(text === '' ? null : { text, good });
  return {
    values,
    set,
    setValues,
    errors,
    said,
    say,
    busy,
    meanwhile,
    refuse: (detail, fields) => {
      setErrors(fields);
      say(detail);
    },
    whileBusy: async (work) => {
      setBusy(true);
      try {
        return await work();
      } finally {
        setBusy(false);
      }
    },
    field: (name) => ({
      value: String(values[name]),
      error: errors[name],
      onChange: (event) => set({ [name]: event.target.value } as Partial<V>),
    }),
    send: async <T>(method: string, path: string, body?: unknown, over = false) => {
      setBusy(true);
      const result = await callApi<T>(method, path, body, mine !== undefined && over ? '*' : mine);
      setBusy(false);
      setErrors(result.ok ? {} : result.fields);
      setMeanwhile(!result.ok && result.code === 'state.changed' ? result.detail : null);
      setSaid(null);
      if (result.ok) {
        const { version: newest } = (result.value ?? {}) as { version?: string };
        if (mine !== undefined && newest !== undefined) setMine(newest);
        return { value: result.value };
      }
      const atFields = Object.keys(result.fields).length > 0 && !long;
      if (!atFields && result.code !== 'state.changed') say(result.detail);
      return null;
    },
  };
}
