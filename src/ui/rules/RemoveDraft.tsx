import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { go } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { Button } from '../parts/Button.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import { rulePath } from './RuleFrame.tsx';
import css from './RemoveDraft.module.css';

interface RemoveDraftProps {
  readonly rule: Pick<RuleView<unknown>, 'object' | 'key'>;
  readonly name: string;
  readonly revision: number;
  /** What is lost beside the draft, as a sentence goes on: `, and the 12 texts it was made from`. */
  readonly also?: string;
  /** Where one is afterwards. */
  readonly to: string;
}

/** Removes a draft that was never rehearsed nor in force; what is lost with it is named first. */
export function RemoveDraft({ rule, name, revision, also = '', to }: RemoveDraftProps) {
  const [asking, setAsking] = useState(false);
  const remove = useMutation({
    mutationFn: () => request('DELETE', rulePath(rule), { revision }),
    onSuccess: () => {
      go(to);
      tell(`${name} is removed.`);
    },
    onError: tellFailure,
  });
  return (
    <>
      <Button onClick={() => setAsking(true)}>Remove the draft</Button>
      {asking && (
        <Dialog title={`Remove ${name}?`} onClose={() => setAsking(false)}>
          <div className={css['asks']}>
            <p>The draft is lost{also}. This cannot be undone.</p>
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
