import { useQuery } from '@tanstack/react-query';
import type * as rulesKindIdApprovalApi from '../../pages/api/rules/[kind]/[id]/approval/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { useState } from 'react';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import { Button } from '../parts/Button.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import { Field } from '../parts/Field.tsx';
import { PeoplePicker } from '../parts/PeoplePicker.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import css from './rules.module.css';

/** Whom to ask to agree, and why; sending it freezes the draft as a version. */
export function AskDialog({
  rule,
  path,
  revision,
  onClose,
}: {
  readonly rule: RuleView<unknown>;
  readonly path: string;
  readonly revision: number;
  readonly onClose: () => void;
}) {
  const [people, setPeople] = useState<readonly number[]>([]);
  const [reason, setReason] = useState('');
  const [error, setError] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const could = useQuery({
    queryKey: ['could-agree', path, revision],
    queryFn: () => request<AnswerOf<typeof rulesKindIdApprovalApi.GET>>('GET', `${path}/approval`),
  });
  const free = could.data?.filter((p) => p.why === '') ?? [];
  const send = async () => {
    setBusy(true);
    try {
      const asked = await request<AnswerOf<typeof rulesKindIdApprovalApi.POST>>('POST', `${path}/approval`, {
        revision,
        people,
        reason,
      });
      tell(`Version ${asked.version} waits for ${asked.people.map((p) => p.name).join(', ')}.`);
      onClose();
    } catch (e) {
      if (e instanceof RequestError) setError(e);
      setBusy(false);
    }
  };
  return (
    <Dialog title={`Ask for this ${rule.object} to be in force`} onClose={onClose}>
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <p className={css['dim']}>
          {rule.needed === 1 ? 'One person' : `${rule.needed} people`} who did not write it must agree. Then
          it is in force at once.
        </p>
        {could.isError && <Failure error={could.error} onRetry={() => void could.refetch()} />}
        {could.isPending && <Loading what="who could agree" />}
        {could.data && free.length < rule.needed && (
          <p role="alert" className={css['trouble']}>
            ◆ Only {free.length} could agree. Let an officer give somebody else that role, or ask for fewer.
          </p>
        )}
        {could.data && (
          <PeoplePicker
            label="Who is asked"
            people={could.data}
            chosen={people}
            onChange={setPeople}
            error={error?.field('people')}
          />
        )}
        <Field
          label="Why it is to be in force"
          hint="They read it, and it goes to the ledger."
          error={error?.field('reason') ?? (error && !error.field('people') ? wholeOf(error) : undefined)}
        >
          <textarea rows={3} maxLength={500} value={reason} onChange={(e) => setReason(e.target.value)} />
        </Field>
        <div className={css['acts']}>
          <Button
            type="submit"
            kind="primary"
            busy={busy}
            disabled={people.length < rule.needed || reason.trim() === ''}
          >
            {people.length > 1 ? `Ask these ${people.length}` : 'Ask them'}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** What was refused of the rule itself, with what would do. */
function wholeOf({ message, refusal }: RequestError): string {
  return [message, ...refusal.fields.map((f) => f.message)].join(' ');
}
