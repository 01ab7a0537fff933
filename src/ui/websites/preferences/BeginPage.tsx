import { useState } from 'react';
import { request } from '../../desk/request.ts';
import { setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { Field } from '../../parts/Field.tsx';
import { Empty } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { PREFERENCES_API } from './use-preferences.ts';

/** Before there is a page: what it would do, and the one thing that has to be said to begin it. */
export function BeginPage({ mayEdit }: { readonly mayEdit: boolean }) {
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <>
      <Empty title="Nobody is asked yet what they may be sent">
        A page on which each person says how and about what they may be written to, opened by a link of their
        own. What they choose is on record, provable as consent is, and told to the mailing tools you connect.
      </Empty>
      {mayEdit && (
        <form
          noValidate
          onSubmit={(e) => {
            e.preventDefault();
            void send(async () => {
              await request('POST', PREFERENCES_API, { name: name.trim() });
              setQuery({ tab: 'page' });
            });
          }}
        >
          <Field label="Who writes to them?" error={error('name') ?? refused?.message}>
            <input value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
          </Field>
          <Button type="submit" kind="primary" busy={busy} disabled={name.trim() === ''}>
            Begin the page
          </Button>
        </form>
      )}
    </>
  );
}
