import type * as websitesApi from '../../../pages/api/websites/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { NewSite as Fields } from '../../../core/websites/sites/new-site.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';
import { siteLink } from '../links.ts';

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
    <DialogForm
      title="Take in a new site"
      onClose={close}
      onSubmit={submit}
      act="Check it and take it in"
      actBusy="Asking the site"
      busy={busy}
    >
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
    </DialogForm>
  );
}
