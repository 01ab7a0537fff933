import { z } from 'zod';
import { takesSecret } from '../../../core/holdings/sources/source.ts';
import type * as takeApi from '../../../pages/api/holdings/listings/[id]/stores/take.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedStore } from '../../../server/holdings/listings/stores.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';
import css from '../estate.module.css';

const Fields = z.object({ user: z.string().max(200), secret: z.string().max(2000) });

/** Takes stores into the register: whose they will be is told first, and what opens them is typed once for all. */
export function TakeStores({
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
  const fresh = stores.filter((s) => s.source === null);
  const { form, submit, busy, error, refused } = useEndpointForm(
    Fields,
    { user: '', secret: '' },
    async (typed) => {
      const { sources, known } = await request<AnswerOf<typeof takeApi.POST>>(
        'POST',
        `/api/holdings/listings/${listing}/stores/take`,
        { ids: stores.map((s) => s.id), ...typed },
      );
      tell(
        `${countWords(sources.length, 'source')} taken in${known > 0 ? `; ${known} in the register before` : ''}. Whether ${sources.length === 1 ? 'it' : 'they'} can be opened is being tried.`,
      );
      onDone();
    },
  );
  const bySystem = new Map<string, number>();
  for (const s of fresh) {
    const to = s.system?.name ?? '';
    bySystem.set(to, (bySystem.get(to) ?? 0) + 1);
  }
  const locked = fresh.some((s) => takesSecret(s.kind));
  // Who lists stores says where they lie: whoever types a password has to see where it goes.
  const servers = [
    ...new Set(fresh.filter((s) => takesSecret(s.kind)).map((s) => s.where.replace(/^.* at /, ''))),
  ];
  return (
    <DialogForm
      title={`Take in ${countWords(fresh.length, 'store')}`}
      onClose={onClose}
      onSubmit={submit}
      act={fresh.length === 1 ? 'Take it in' : 'Take them in'}
      busy={busy}
      refused={refused}
    >
      <ul className={css['why']}>
        {[...bySystem].map(([system, n]) => (
          <li key={system}>
            {countWords(n, 'store')}{' '}
            {system === '' ? (
              <span className={css['mark']}>◆ of no system, by no rule of this listing</span>
            ) : (
              <>
                of <b>{system}</b>
              </>
            )}
          </li>
        ))}
        {stores.length > fresh.length && (
          <li>{countWords(stores.length - fresh.length, 'store')} in the register already</li>
        )}
      </ul>
      {locked && (
        <>
          <p className={css['note']}>
            {servers.length === 1
              ? 'What you type goes to '
              : `What you type goes to ${servers.length} servers: `}
            <b>{servers.slice(0, 5).join(', ')}</b>
            {servers.length > 5 && ' and others'}.
          </p>
          <Field
            label="User or access key"
            hint="For all of them; empty where the listing tells it."
            error={error('user')}
          >
            <input {...form.register('user')} autoComplete="off" spellCheck={false} />
          </Field>
          <Field
            label="Password or secret key"
            hint="Kept encrypted, and never shown again."
            error={error('secret')}
          >
            <input {...form.register('secret')} type="password" autoComplete="new-password" />
          </Field>
        </>
      )}
    </DialogForm>
  );
}
