import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

/** Takes in a site: its address is asked as a browser would ask it. */
export function NewSite() {
  const [address, setAddress] = useState('');
  const [name, setName] = useState('');
  const [error, setError] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const close = () => setQuery({ new: null });
  const add = async () => {
    setBusy(true);
    setError(undefined);
    try {
      const { host, redirects } = await request<{ host: string; redirects: string[] }>(
        'POST',
        '/api/websites',
        { address, name },
      );
      tell(
        redirects.length
          ? `${host} is in the program. The address redirects: ${redirects.join(' → ')}.`
          : `${host} is in the program. Sweep it to see what runs on it.`,
      );
      go(siteLink(host));
    } catch (e) {
      setError(e);
    } finally {
      setBusy(false);
    }
  };
  const refused = error instanceof RequestError ? error : undefined;
  return (
    <Dialog title="Take in a new site" onClose={close}>
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <Field
          label="Address"
          hint="The page a visitor begins on. It is asked once, now, to see that it answers."
          error={refused ? (refused.field('address') ?? refused.message) : undefined}
        >
          <input
            autoFocus
            value={address}
            onChange={(e) => setAddress(e.target.value)}
            placeholder="www.company.example"
            autoComplete="off"
            spellCheck={false}
          />
        </Field>
        <Field
          label="What it is for"
          hint="Left empty, the page’s own title is used."
          error={refused?.field('name')}
        >
          <input value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <div className={css['formActs']}>
          <Button type="submit" kind="primary" busy={busy}>
            {busy ? 'Asking the site' : 'Check it and take it in'}
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
