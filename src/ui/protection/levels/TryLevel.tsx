import { useState } from 'react';
import { sendFile } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { download } from '../../desk/download.ts';

/** Stamps a file of one's own with the level as its draft stands, and gives it back. */
export function TryLevel({
  id,
  name,
  onClose,
}: {
  readonly id: string;
  readonly name: string;
  readonly onClose: () => void;
}) {
  const [file, setFile] = useState<File | undefined>();
  const [done, setDone] = useState('');
  const { busy, refused, error, send } = useSending();
  const tryIt = async () => {
    if (!file) return;
    setDone('');
    const upload = await sendFile(file);
    await download(`/api/protection/levels/${encodeURIComponent(id)}/try`, { upload }, file.name);
    setDone(
      `${file.name} was given back to you, stamped. The file itself is as it was, and nothing was kept here.`,
    );
  };
  return (
    <DialogForm
      title={`Try ${name} on a file`}
      onClose={onClose}
      onSubmit={() => send(tryIt)}
      act="Stamp a copy"
      actBusy="Stamping …"
      busy={busy}
      disabled={!file}
      refused={error('upload') ?? refused?.message}
    >
      <Field label="A document, sheet, slides (of Office or OpenDocument), PDF or message">
        <input
          type="file"
          accept=".eml,.pdf,.odt,.ods,.odp,.docx,.xlsx,.pptx,.docm,.xlsm,.pptm"
          onChange={(e) => {
            setFile(e.target.files?.[0]);
            setDone('');
          }}
        />
      </Field>
      {done && <p role="status">✓ {done}</p>}
    </DialogForm>
  );
}
