import { useRef, useState } from 'react';
import { sizeOfPicture, USE_OF, type PagePictures } from '@/core/pages/picture';
import { Button } from '@/ui/basic/button';
import { problemText, sendFile } from '@/ui/basic/call-api';
import { Field, SwitchField } from '@/ui/form/fields';
import type { ApiForm } from '@/ui/form/use-api-form';
import type { PageValues } from './values';

const TYPES = 'image/png,image/jpeg,image/webp,image/gif,image/svg+xml';

const WORDS: Readonly<Record<keyof PagePictures, { label: string; help: string }>> = {
  logo: { label: 'Logo', help: 'Shown up to 240 by 60 pixels large, beside the title.' },
  logoDark: { label: 'Logo by night', help: 'For dark grounds; without one, the other stands there too.' },
  favicon: { label: 'Picture of the window', help: 'A square one, for the tab and the list of bookmarks.' },
  cover: { label: 'Cover', help: 'A wide one above all else, cut to 1100 by 200 pixels.' },
};

/** One picture of a page: chosen from a file, or dropped here, and shown as it will be. */
function PictureField({ form, name }: { form: ApiForm<PageValues>; name: keyof PagePictures }) {
  const { label, help } = WORDS[name];
  const chooser = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const picture = form.values[name];
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setProblem(null);
    const sent = await sendFile<{ name: string }>(`/pictures?use=${USE_OF[name]}`, file);
    setBusy(false);
    if (sent.ok) form.set({ [name]: sent.value.name });
    else setProblem(problemText(sent));
    if (chooser.current) chooser.current.value = '';
  };
  return (
    <Field label={label} help={busy ? 'Being taken in…' : help} error={problem ?? form.errors[name]}>
      {(props) => (
        <span
          className="border-edge flex min-h-14 flex-wrap items-center gap-3 rounded-lg border border-dashed p-2"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            void take(event.dataTransfer.files[0]);
          }}
        >
          {picture && (
            <img
              src={`/picture/${picture}`}
              alt={`${label} as it is`}
              className={`h-12 w-auto max-w-48 rounded object-contain ${name === 'logoDark' ? 'bg-[#131a25]' : name === 'logo' ? 'bg-[#f6f3eb]' : ''}`}
              {...sizesOf(picture)}
            />
          )}
          <input
            {...props}
            ref={chooser}
            type="file"
            accept={TYPES}
            disabled={busy}
            className="file:border-edge file:bg-quiet min-w-0 max-w-full flex-1 text-[0.875rem] file:mr-3 file:rounded-lg file:border file:px-3 file:py-1.5 file:font-semibold"
            onChange={(event) => void take(event.target.files?.[0])}
          />
          {picture && <Button onClick={() => form.set({ [name]: null })}>Take it off</Button>}
        </span>
      )}
    </Field>
  );
}

function sizesOf(picture: string) {
  const { wide, high } = sizeOfPicture(picture);
  return { width: wide, height: high };
}

/** The pictures of a page. */
export function PictureFields({ form }: { form: ApiForm<PageValues> }) {
  const { values, set } = form;
  return (
    <fieldset className="flex flex-col gap-3">
      <legend className="mb-1 font-semibold">Pictures</legend>
      <div className="grid gap-4 sm:grid-cols-2">
        <PictureField form={form} name="logo" />
        <PictureField form={form} name="logoDark" />
        <PictureField form={form} name="favicon" />
        <PictureField form={form} name="cover" />
      </div>
      {values.logo !== null && (
        <SwitchField
          label="The title stands beside the logo"
          checked={values.titleShown}
          onChange={(event) => set({ titleShown: event.target.checked })}
        />
      )}
    </fieldset>
  );
}
