import { z } from 'zod';
import type { ListedStore } from '../../../server/holdings/listings/stores.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';

const Fields = z.object({ reason: z.string().trim().min(3, 'Say why.').max(400) });

/** Sets stores aside that will be no sources, with a reason; taken back in the same place. */
export function SetAside({
  listing,
  stores,
  onDone,
  onClose,
}: {
  readonly listing: string;
  readonly stores: readonly ListedStore[];
  readonly onDone: () => void;
  readonly onClose: () => void;
}) {
  const ids = stores.map((s) => s.id);
  const send = (reason: string | null) =>
    request('POST', `/api/holdings/listings/${listing}/stores/aside`, { ids, reason });
  const { form, submit, busy, error, refused } = useEndpointForm(
    Fields,
    { reason: '' },
    async ({ reason }) => {
      await send(reason);
      tell(`${countWords(ids.length, 'store')} set aside.`, {
        undo: () => void send(null).then(onDone, tellFailure),
      });
      onDone();
    },
  );
  const back = stores.length > 0 && stores.every((s) => s.standing === 'aside');
  return (
    <DialogForm
      title={`Set ${countWords(ids.length, 'store')} aside`}
      onClose={onClose}
      onSubmit={submit}
      act="Set aside"
      busy={busy}
      moreActs={
        back && (
          <Button onClick={() => void send(null).then(onDone, tellFailure)}>Decide on them again</Button>
        )
      }
    >
      <Field
        label="Why"
        hint="Whoever looks at the listing later sees it."
        error={error('reason') ?? refused}
      >
        <input {...form.register('reason')} autoComplete="off" placeholder="Holds no data of people" />
      </Field>
    </DialogForm>
  );
}
