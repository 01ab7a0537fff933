import { useMutation } from '@tanstack/react-query';
import type * as holdingsSetsApi from '../../../../pages/api/holdings/sets/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useState } from 'react';
import { go } from '../../../desk/location.ts';
import { request, RequestError } from '../../../desk/request.ts';
import { Button } from '../../../parts/Button.tsx';
import { Dialog } from '../../../parts/Dialog.tsx';
import { Field } from '../../../parts/Field.tsx';
import { setLink } from '../../links.ts';
import css from '../../holdings.module.css';

/** Begins a labelled set. */
export function NewSet({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const add = useMutation({
    mutationFn: () => request<AnswerOf<typeof holdingsSetsApi.POST>>('POST', '/api/holdings/sets', { name }),
    onSuccess: ({ id }) => {
      onClose();
      go(setLink(id));
    },
  });
  const refused = add.error instanceof RequestError ? add.error : undefined;
  return (
    <Dialog title="Begin a labelled set" onClose={onClose}>
      <form
        className={css['make']}
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate();
        }}
      >
        <Field
          label="What its texts are"
          hint="Texts whose personal data you mark, to hold detectors against."
          error={refused ? (refused.field('name') ?? refused.message) : undefined}
        >
          <input autoFocus value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
        </Field>
        <div className={css['acts']}>
          <Button type="submit" kind="primary" busy={add.isPending}>
            Begin it
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
