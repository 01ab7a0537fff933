import type * as websitesApi from '../../../pages/api/websites/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { NewSite as Fields } from '../../../core/websites/sites/new-site.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

/** Takes in a site: its address is asked as a browser would ask it. */
export function NewSite() {
  const close = () => setQuery({ new: null });
  const { form, submit, busy, error, refused } = useEndpointForm(
    Fields,
    { address: '', name: '' },
    async (site) => {
      const { host, redirects } = await request<AnswerOf<typeof websitesApi.POST>>(
        'POST',
        '/api/websites',
        site,
      );
      tell(
        redirects.length
          ? `${host} is in the program. The address redirects: ${redirects.join(' → ')}.`
          : `${host} is in the program. Sweep it to see what runs on it.`,
      );
      go(siteLink(host));
    },
  );
  return (
    <Dialog title="Take in a new site" onClose={close}>
      <form className={css['form']} noValidate onSubmit={submit}>
        <Field
          label="Address"
          hint="The page a visitor begins on. It is asked once, now, to see that it answers."
          error={error('address') ?? refused}
        >
          <input
            {...form.register('address')}
            autoFocus
            placeholder="www.company.example"
            autoComplete="off"
            spellCheck={false}
          />
        </Field>
        <Field label="What it is for" hint="Left empty, the page’s own title is used." error={error('name')}>
          <input {...form.register('name')} />
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
