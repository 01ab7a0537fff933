import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { go } from '../../../desk/location.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { Dialog } from '../../../parts/Dialog.tsx';
import { detectorLink, DETECTORS } from '../../links.ts';
import css from '../../holdings.module.css';

/** Removes a draft that nothing was ever read with; what is lost with it is named first. */
export function RemoveDraft({
  id,
  name,
  revision,
  texts,
}: {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly texts: number;
}) {
  const [asking, setAsking] = useState(false);
  const remove = useMutation({
    mutationFn: () => request('DELETE', `/api${detectorLink(id)}`, { revision }),
    onSuccess: () => {
      go(DETECTORS);
      tell(`${name} is removed.`);
    },
    onError: tellFailure,
  });
  return (
    <>
      <Button onClick={() => setAsking(true)}>Remove the draft</Button>
      {asking && (
        <Dialog title={`Remove ${name}?`} onClose={() => setAsking(false)}>
          <div className={css['make']}>
            <p>
              The draft is lost{texts > 0 && `, and the ${texts} texts it was made from`}. This cannot be
              undone.
            </p>
            <div className={css['acts']}>
              <Button kind="primary" autoFocus busy={remove.isPending} onClick={() => remove.mutate()}>
                Remove it
              </Button>
              <Button onClick={() => setAsking(false)}>Keep it</Button>
            </div>
          </div>
        </Dialog>
      )}
    </>
  );
}
