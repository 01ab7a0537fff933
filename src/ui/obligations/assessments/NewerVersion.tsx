import { useState } from 'react';
import type { AssessmentContent } from '../../../core/obligations/work/assessment-content.ts';
import type { AssessmentView } from '../../../server/obligations/assessments/assessment-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { frameworkLink } from '../links.ts';
import { readyWords } from '../obligation-words.ts';
import { useDifferences } from '../use-obligations.ts';

/** What a newer version would do to an assessment; taken now, on a day, or never with a reason. */
export function NewerVersion({ view }: { readonly view: AssessmentView }) {
  const { id, framework, newer, newerOn, newerTally, tally } = view;
  const differences = useDifferences(framework.id, newer === null ? undefined : framework.version);
  const mayEdit = useMay('obligations.edit');
  const [deciding, setDeciding] = useState<'on a day' | 'never'>();
  if (newer === null || !differences.data) return null;
  const take = async () => {
    try {
      await request('POST', `/api/obligations/assessments/${id}/version`, {});
      tell('It is held against the new version from now on.');
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <SoundingsSection title="If the new version is taken">
      <p>
        {differenceWords(differences.data.differences)}.
        {newerTally &&
          ` Readiness there ${readyWords(tally)} → ${readyWords(newerTally)}, until its new measures are done.`}{' '}
        <a href={`${frameworkLink(framework.id)}?from=${framework.version}`}>See the differences</a>
      </p>
      {newerOn !== null && <p>◇ It is taken on {dateWords(newerOn)}.</p>}
      {mayEdit && (
        <>
          <Button onClick={() => void take()}>Take it now</Button>{' '}
          <Button kind="quiet" onClick={() => setDeciding('on a day')}>
            On a day …
          </Button>{' '}
          <Button kind="quiet" onClick={() => setDeciding('never')}>
            Never …
          </Button>
        </>
      )}
      {deciding && <Decide id={id} version={newer} take={deciding} onClose={() => setDeciding(undefined)} />}
    </SoundingsSection>
  );
}

function Decide({
  id,
  version,
  take,
  onClose,
}: {
  readonly id: number;
  readonly version: string;
  readonly take: 'on a day' | 'never';
  readonly onClose: () => void;
}) {
  const { query, save } = usePlainObject<AssessmentContent>('assessment', id);
  const [words, setWords] = useState('');
  const content = query.data?.content;
  const keep = async () => {
    if (!content) return;
    const newer = take === 'never' ? { take, version, reason: words.trim() } : { take, version, on: words };
    onClose();
    await save(
      { ...content, newer },
      take === 'never' ? 'It is not taken.' : `It is taken on ${dateWords(words)}.`,
    );
  };
  return (
    <DialogForm
      title={take === 'never' ? 'Do not take this version' : 'Take this version on a day'}
      onClose={onClose}
      onSubmit={() => void keep()}
      act={take === 'never' ? 'Do not take it' : 'Take it then'}
      disabled={words.trim() === ''}
    >
      {take === 'never' ? (
        <Field label="Why it is not taken">
          <input value={words} maxLength={400} onChange={(e) => setWords(e.target.value)} />
        </Field>
      ) : (
        <Field label="Day">
          <input type="date" value={words} onChange={(e) => setWords(e.target.value)} />
        </Field>
      )}
    </DialogForm>
  );
}

function differenceWords(differences: readonly { readonly is: 'new' | 'gone' | 'changed' }[]): string {
  const n = (is: string) => differences.filter((d) => d.is === is).length;
  return [
    n('new') > 0 ? `+${n('new')} controls` : '',
    n('changed') > 0 ? `${n('changed')} changed in words` : '',
    n('gone') > 0 ? `${n('gone')} gone` : '',
  ]
    .filter(Boolean)
    .join(', ');
}
