import { useState } from 'react';
import type { AccessSourceView } from '../../../server/access/sources/access-sources.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { useSending } from '../../parts/use-sending.ts';
import {
  ACCESS_FIELDS,
  AccessAddressFields,
  accessTyped,
  typedAccess,
  typedUpload,
} from './AccessAddressFields.tsx';

/** Where a source is read, what opens it, or a newer file: tried before it is kept. */
export function MoveAccessSource({
  source: { id, address, hasSecret },
  onClose,
}: {
  readonly source: AccessSourceView;
  readonly onClose: () => void;
}) {
  const [typed, setTyped] = useState(() => accessTyped(address));
  const { busy, refused, error: errorOf, send } = useSending();
  const error = (field: string) => errorOf(field, `address.${field}`);
  const move = async () => {
    await request('PUT', `/api/access/sources/${id}`, {
      address: typedAccess(address.kind, typed),
      ...(typed.secret === '' ? {} : { secret: typed.secret }),
      upload: await typedUpload(address.kind, typed),
    });
    tell('It could be read, and is read so from now on.');
    onClose();
  };
  return (
    <DialogForm
      title={address.kind === 'estate file' ? 'Take in a newer file' : 'Where it is read'}
      onClose={onClose}
      onSubmit={() => send(move)}
      act="Try it and keep it"
      actBusy="Trying to read it"
      busy={busy}
      refused={refused && !ACCESS_FIELDS.some((f) => error(f)) ? refused.message : undefined}
    >
      <AccessAddressFields
        kind={address.kind}
        typed={typed}
        onType={setTyped}
        error={error}
        secretHint={
          hasSecret ? 'Left empty, the one that is kept stays, as long as the server is the same.' : undefined
        }
      />
    </DialogForm>
  );
}
