import { useState } from 'react';
import type { ListingAddress } from '../../../core/holdings/listings/listing.ts';
import { queryClient } from '../../desk/changed.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { AccountFields } from './AccountFields.tsx';

/** Another address or key, tried before it is kept. */
export function MoveListing({
  id,
  address,
  onClose,
}: {
  readonly id: string;
  readonly address: Extract<ListingAddress, { kind: 'account' }>;
  readonly onClose: () => void;
}) {
  const [typed, setTyped] = useState({ url: address.url, certificate: address.certificate, secret: '' });
  const { busy, refused, error, send } = useSending();
  const move = async () => {
    const { secret, url, certificate } = typed;
    await request('PUT', `/api/holdings/listings/${id}`, {
      address: { kind: 'account', url: url.trim(), certificate },
      ...(secret === '' ? {} : { secret }),
    });
    tell('It answers, and is asked there from now on.');
    void queryClient.invalidateQueries({ queryKey: ['listing-view', id] });
    onClose();
  };
  return (
    <DialogForm
      title="Where it is asked"
      onClose={onClose}
      onSubmit={() => send(move)}
      act="Ask it and keep it"
      actBusy="Asking it"
      busy={busy}
      refused={refused?.message}
    >
      <AccountFields
        typed={typed}
        onType={setTyped}
        error={(field) => error(field, `address.${field}`)}
        secretHint="Left empty, the one that is kept stays."
      />
    </DialogForm>
  );
}
