import { useState } from 'react';
import type * as rulesKindIdApprovalSayApi from '../../pages/api/rules/[kind]/[id]/approval/say.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { Approval } from '../../server/rules/approval-store.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import { Button } from '../parts/Button.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import { Field } from '../parts/Field.tsx';
import css from './rules.module.css';

/** One's yes or no to a version, with why; it says what will follow from it. */
export function SayDialog({
  rule,
  path,
  approval,
  agrees,
  onClose,
}: {
  readonly rule: RuleView<unknown>;
  readonly path: string;
  readonly approval: Approval;
  readonly agrees: boolean;
  readonly onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [error, setError] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const version = rule.versions.find((v) => v.version === approval.version);
  const missing = approval.needed - approval.people.filter((p) => p.agrees).length - 1;
  const say = async () => {
    setBusy(true);
    try {
      const after = await request<AnswerOf<typeof rulesKindIdApprovalSayApi.POST>>(
        'POST',
        `${path}/approval/say`,
        {
          approval: approval.id,
          agrees,
          reason,
        },
      );
      tell(
        after.state === 'agreed'
          ? `Version ${after.version} is in force.`
          : agrees
            ? 'Your yes is on record.'
            : `Version ${after.version} stays out of force, and ${after.askedBy.name} is told.`,
      );
      onClose();
    } catch (e) {
      if (e instanceof RequestError) setError(e);
      setBusy(false);
    }
  };
  return (
    <Dialog
      title={agrees ? `Agree to version ${approval.version}` : `Do not agree to version ${approval.version}`}
      onClose={onClose}
    >
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void say();
        }}
      >
        {rule.waiting !== '' && <p className={css['text']}>{rule.waiting}</p>}
        {version && version.changes.length > 0 && (
          <>
            <p className={css['dim']}>It changes:</p>
            <ul className={css['changes']}>
              {version.changes.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </>
        )}
        <p className={css['dim']}>
          {!agrees
            ? 'One no ends it: nothing is put in force.'
            : missing > 0
              ? `${missing} more must agree before it is in force.`
              : 'With your yes it is in force at once.'}
        </p>
        <Field
          label="Why"
          hint="It goes to the ledger under your name."
          error={
            error &&
            (error.field('reason') ??
              [error.message, ...error.refusal.fields.map((f) => f.message)].join(' '))
          }
        >
          <textarea
            autoFocus
            rows={3}
            maxLength={500}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
        </Field>
        <div className={css['acts']}>
          <Button type="submit" kind="primary" busy={busy} disabled={reason.trim() === ''}>
            {agrees ? 'I agree' : 'I do not agree'}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
