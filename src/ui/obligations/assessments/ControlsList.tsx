import type { AssessmentContent } from '../../../core/obligations/work/assessment-content.ts';
import type { AssessmentView, ControlView } from '../../../server/obligations/assessments/assessment-view.ts';
import { PARTS } from '../../../core/obligations/readiness/readiness.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { measureLink } from '../links.ts';
import { MeasureState } from '../measures/MeasureState.tsx';
import { TestWords } from '../measures/TestWords.tsx';
import { pointsWords } from '../obligation-words.ts';
import css from '../obligations.module.css';

/** Control by control, each with what answers it. */
export function ControlsList({
  view,
  family,
}: {
  readonly view: AssessmentView;
  readonly family: string | null;
}) {
  const families = view.families.filter((f) => family === null || f.id === family);
  return (
    <>
      {family !== null && (
        <Button kind="quiet" onClick={() => setQuery({ family: null })}>
          Show all families
        </Button>
      )}
      {families.map((f) => (
        <section key={f.id}>
          <h2 className={css['heading']}>{f.name}</h2>
          {view.controls
            .filter((c) => c.family === f.id)
            .map((c) => (
              <OneControl key={c.id} id={view.id} control={c} />
            ))}
        </section>
      ))}
    </>
  );
}

function OneControl({ id, control: c }: { readonly id: number; readonly control: ControlView }) {
  const whole = c.applies && c.given === c.points * PARTS;
  return (
    <details className={css['control']}>
      <summary>
        <span>
          <b>{c.ref}</b> {c.name}
        </span>
        <span className={css['of']}>
          {c.applies ? `${whole ? '✓ ' : ''}${pointsWords(c.given)} of ${c.points}` : 'does not apply'}
        </span>
      </summary>
      <p>{c.guidance}</p>
      <p className={css['note']}>
        {c.duty}, {c.kind}, risk {c.risk} of 5
      </p>
      <ul className={css['plain']}>
        {c.measures.map((m) => (
          <li key={m.id}>
            {m.gives ? '✓' : '○'} <a href={measureLink(m.key)}>{m.name}</a> <MeasureState state={m.state} />
            <small>
              <TestWords measure={m} />
              {m.why === 'evidence past its date' && ' · its evidence is past its date'}
              {c.applies && ` · ${pointsWords(m.share)} points`}
            </small>
          </li>
        ))}
      </ul>
      <Applies id={id} control={c} />
    </details>
  );
}

/** Whether it applies; that it does not needs a reason. */
function Applies({ id, control: c }: { readonly id: number; readonly control: ControlView }) {
  const mayEdit = useMay('obligations.edit');
  const { query, save } = usePlainObject<AssessmentContent>('assessment', id);
  const content = query.data?.content;
  if (!content) return null;
  const reason = content.notApplicable[c.id];
  const set = (words: string) => {
    const { [c.id]: _before, ...others } = content.notApplicable;
    void save(
      { ...content, notApplicable: words === '' ? others : { ...others, [c.id]: words } },
      words === '' ? 'It applies.' : 'It does not apply.',
    );
  };
  if (!mayEdit && reason === undefined) return null;
  return (
    <p>
      {reason === undefined ? 'It applies; it does not, because ' : 'It does not apply: '}
      <Slot
        label="Why it does not apply"
        words={reason ?? ''}
        fixed={!mayEdit}
        edit={{ kind: 'text', most: 400, value: reason ?? '', set, hint: 'Empty where it applies' }}
      />
    </p>
  );
}
