import { z } from 'zod';
import { KeptLens } from '../../../core/holdings/lenses/kept-lens.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';

const Fields = z.object({ name: KeptLens.shape.name });

/** Keeps the lens that is looked through under a name. */
export function KeepLens({ line, onClose }: { readonly line: string; readonly onClose: () => void }) {
  const { form, submit, busy, error, refused } = useEndpointForm(Fields, { name: '' }, async ({ name }) => {
    await request('POST', '/api/holdings/lenses', { name, lens: line });
    tell(`“${name}” is kept. It stands in the register.`);
    onClose();
  });
  return (
    <DialogForm title="Keep this lens" onClose={onClose} onSubmit={submit} act="Keep it" busy={busy}>
      <Field
        label="What it is called"
        hint="Everybody finds it in the register, and rules can name it."
        error={error('name') ?? refused}
      >
        <input
          {...form.register('name')}
          autoFocus
          autoComplete="off"
          placeholder="Health notes in manifests"
        />
      </Field>
    </DialogForm>
  );
}
