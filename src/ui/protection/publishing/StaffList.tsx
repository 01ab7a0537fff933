import { useState } from 'react';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../protection.module.css';

/** Reads in who works here; in the place of what was known. */
export function StaffList({ onClose }: { readonly onClose: () => void }) {
  const [file, setFile] = useState<File | undefined>();
  const { busy, refused, error, send } = useSending();
  const read = async () => {
    if (!file) return;
    const { people, groups } = await request<{ people: number; groups: number }>(
      'POST',
      '/api/accounts/staff',
      { upload: await sendFile(file) },
    );
    onClose();
    tell(`${countWords(people, 'person', 'people')} in ${countWords(groups, 'group')} are known now.`);
  };
  return (
    <DialogForm
      title="Read in a list of people"
      onClose={onClose}
      onSubmit={() => send(read)}
      act="Read it in"
      actBusy="Reading …"
      busy={busy}
      disabled={!file}
      refused={error('upload') ?? refused?.message}
    >
      <Field label="A list in CSV, as your directory exports it">
        <input type="file" accept=".csv,text/csv" onChange={(e) => setFile(e.target.files?.[0])} />
      </Field>
      {refused?.refusal?.fields
        .filter((f) => f.field !== 'upload')
        .map((f) => (
          <p key={f.field + f.message} className={css['mark']}>
            {f.field}: {f.message}
          </p>
        ))}
      <p>
        Its headings: <code>address</code>, <code>name</code>, <code>unit</code>, <code>groups</code> (parted
        by semicolons) and <code>left</code> (a day). A row without an address is a group, and its groups are
        those it stands in. The list is taken whole: who does not stand in it is offered nothing any more.
      </p>
    </DialogForm>
  );
}
