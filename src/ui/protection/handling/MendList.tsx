import { useQuery } from '@tanstack/react-query';
import type { HandlingNames, HandlingRuleContent } from '../../../core/protection/handling/handling-rule.ts';
import type { MendStep } from '../../../core/protection/handling/mend.ts';
import { audienceWords } from '../../../core/accounts/staff/audience.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import type * as mendsApi from '../../../pages/api/protection/handling/[id]/mends.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { useHandlingNames } from './use-handling.ts';
import css from '../protection.module.css';

/** What people called false alarms, and what to change so that there are fewer: one act takes it into the draft. */
export function MendList({
  id,
  revision,
  content,
  set,
}: {
  readonly id: string;
  readonly revision: number;
  readonly content: HandlingRuleContent;
  readonly set: (content: HandlingRuleContent) => void;
}) {
  const may = useMay('protection.activity');
  const mayEdit = useMay('protection.edit');
  const names = useHandlingNames();
  const { data } = useQuery({
    queryKey: ['handling-mends', id, revision],
    queryFn: () =>
      request<AnswerOf<typeof mendsApi.GET>>(
        'GET',
        `/api/protection/handling/${encodeURIComponent(id)}/mends`,
      ),
    enabled: may,
    placeholderData: (before) => before,
  });
  if (!data || data.falseAlarms === 0 || !names) return null;
  return (
    <>
      <h2 className={css['heading']}>Wrong less often</h2>
      <p className={css['note']}>
        Of {countWords(data.confronted, 'act')} in 90 days at which somebody was asked or stopped,{' '}
        {countWords(data.falseAlarms, 'was called a false alarm', 'were called false alarms')}.
        {data.mends.length === 0 && ' No single change would help more than it costs.'}
      </p>
      {data.mends.length > 0 && (
        <ul className={css['mends']} aria-label="Changes that would help">
          {data.mends.map((m) => {
            const words = stepWords(m.step, names);
            return (
              <li key={words}>
                <span>
                  <b>{words}</b>: {numberWords(m.avoided)} of {countWords(data.falseAlarms, 'false alarm')}{' '}
                  fewer
                  {m.lost > 0 ? (
                    <>
                      , and {numberWords(m.lost)} of {numberWords(data.confronted - data.falseAlarms)} right
                      ones let go
                    </>
                  ) : (
                    ', and no right one let go'
                  )}
                </span>
                {mayEdit && (
                  <Button
                    aria-label={`Change the draft: ${words}`}
                    onClick={() => {
                      const before = content;
                      set(m.content);
                      tell('It stands in the draft. Look at what it would have done, then put it in force.', {
                        undo: () => {
                          set(before);
                          return Promise.resolve();
                        },
                      });
                    }}
                  >
                    Change it so
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </>
  );
}

function stepWords(step: MendStep, names: HandlingNames): string {
  switch (step.does) {
    case 'ask more':
      return `Only where ${lensWords({ fact: step.fact, is: 'at least', number: step.to }, names.items)}, not ${step.from}`;
    case 'leave out':
      return `Not where ${lensWords({ fact: step.fact, is: 'one of', values: [step.value] }, names.items)}`;
    case 'leave alone':
      return `Leave ${audienceWords(step.group)} alone`;
    case 'let go towards':
      return `Let go what goes to ${names.named.find((g) => g.value === step.group)?.words ?? step.group}`;
  }
}
