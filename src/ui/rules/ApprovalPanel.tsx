import { useState } from 'react';
import type { Approval, AskedPerson } from '../../server/rules/approval-store.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { useAccount } from '../desk/account-context.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { SayDialog } from './SayDialog.tsx';
import css from './rules.module.css';

/** What others were asked to agree to: who said what, and what one can say or do oneself. Nothing where none is asked. */
export function ApprovalPanel({
  rule,
  path,
  mayForce,
}: {
  readonly rule: RuleView<unknown>;
  readonly path: string;
  readonly mayForce: boolean;
}) {
  const me = useAccount();
  const [saying, setSaying] = useState<boolean | undefined>();
  const { approval } = rule;
  if (!approval || !isNews(approval, rule)) return null;
  const isOpen = approval.state === 'open';
  const asksMe = isOpen && mayForce && approval.people.some((p) => p.id === me.id && p.agrees === null);
  const withdraw = async () => {
    try {
      await request('DELETE', `${path}/approval`, { approval: approval.id });
      tell('Nobody is asked any more.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <section className={css['approval']} data-state={approval.state} aria-label="Agreement">
      <p className={css['answer']}>{stateWords(approval)}</p>
      <p className={css['dim']}>
        {approval.askedBy.name} asked {whenWords(approval.askedAt)}: “{approval.reason}”
      </p>
      <ul className={css['people']}>
        {approval.people.map((p) => (
          <li key={p.id}>{saidWords(p)}</li>
        ))}
      </ul>
      {isOpen && (
        <div className={css['acts']}>
          {asksMe && (
            <>
              <Button kind="primary" onClick={() => setSaying(true)}>
                Agree …
              </Button>
              <Button onClick={() => setSaying(false)}>Do not agree …</Button>
            </>
          )}
          {mayForce && <Button onClick={() => void withdraw()}>Ask nobody any more</Button>}
        </div>
      )}
      {saying !== undefined && (
        <SayDialog
          rule={rule}
          path={path}
          approval={approval}
          agrees={saying}
          onClose={() => setSaying(undefined)}
        />
      )}
    </section>
  );
}

/** What was agreed to is told by the state of the rule; what was refused, until something else is asked or in force. */
function isNews(approval: Approval, rule: RuleView<unknown>): boolean {
  return approval.state === 'open' || (approval.state === 'refused' && approval.version === rule.lastVersion);
}

function stateWords({ state, version, needed, people }: Approval): string {
  if (state !== 'open') return `◆ Version ${version} was not agreed to`;
  const agreed = people.filter((p) => p.agrees).length;
  return `○ Version ${version} waits: ${agreed} of ${needed} agreed`;
}

function saidWords({ name, agrees, reason, at }: AskedPerson): string {
  if (agrees === null) return `○ ${name} has not answered`;
  return `${agrees ? '✓' : '◆'} ${name} ${agrees ? 'agreed' : 'did not agree'} ${at ? whenWords(at) : ''}: “${reason ?? ''}”`;
}
