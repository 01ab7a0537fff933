import type { MeasureWork } from '../../../core/obligations/work/measure-work.ts';
import { MEASURE_STATES } from '../../../core/obligations/readiness/readiness.ts';
import type { MeasureView } from '../../../server/obligations/work/measure-view.ts';
import { useAccount, useMay } from '../../desk/account-context.ts';
import { dateWords, whenWords } from '../../desk/words.ts';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { assessmentLink } from '../links.ts';
import { effortWords, pointsWords } from '../obligation-words.ts';
import { useMeasure, useWorkPeople } from '../use-obligations.ts';
import { Comments } from './Comments.tsx';
import { EvidenceList } from './EvidenceList.tsx';
import { LiveTestSection } from './LiveTestSection.tsx';
import { TestWords } from './TestWords.tsx';
import css from '../obligations.module.css';

/** One measure in a cycle: what it takes, where it stands, how it was tested, and what it counts for. */
export function MeasureSheet({ id }: { readonly id: string }) {
  const view = useMeasure(id);
  const work = usePlainObject<MeasureWork>('measure work', id);
  const people = useWorkPeople();
  const failed = view.error ?? work.query.error;
  if (failed && !(view.data && work.query.data))
    return <Failure error={failed} onRetry={() => void view.refetch()} />;
  if (!view.data || !work.query.data || !people.data) return <Loading what="the measure" />;
  const { measure, cycle } = view.data;
  return (
    <>
      <SheetHead
        title={measure.name}
        detail={
          <>
            Cycle {cycle} · {measure.whose === 'ours' ? 'ours to do' : 'a provider’s to do'} · takes{' '}
            {effortWords(measure.hours)}
            {measure.where && (
              <>
                {' '}
                · <a href={measure.where}>Done here</a>
              </>
            )}
          </>
        }
      />
      <Work view={view.data} content={work.query.data.content} save={work.save} people={people.data} />
      {measure.test && <LiveTestSection test={measure.test} />}
      <h2 className={css['heading']}>What it takes</h2>
      <ol className={css['steps']}>
        {measure.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      <h2 className={css['heading']}>What shows that it is done</h2>
      <ul className={css['plain']}>
        {measure.evidence.map((e) => (
          <li key={e}>{e}</li>
        ))}
      </ul>
      <EvidenceList id={id} evidence={view.data.evidence} />
      <Comments id={id} comments={view.data.comments} />
      <h2 className={css['heading']}>What it counts for</h2>
      <FigureTable
        columns={['Framework', 'Control', { figure: 'Points' }, 'Given']}
        rows={view.data.serves.map((s) => ({
          key: `${s.assessment} ${s.ref} ${s.name}`,
          cells: [
            <a href={assessmentLink(s.assessment)}>{s.framework}</a>,
            `${s.ref} ${s.name}`,
            pointsWords(s.share),
            s.gives ? '✓ yes' : `○ ${s.why ?? 'the control does not apply'}`,
          ],
        }))}
      />
      {view.data.also.length > 0 && (
        <p className={css['note']}>It would answer {view.data.also.join(', ')}, too.</p>
      )}
    </>
  );
}

interface WorkProps {
  readonly view: MeasureView;
  readonly content: MeasureWork;
  readonly save: (content: MeasureWork, done: string) => Promise<void>;
  readonly people: readonly { readonly id: number; readonly name: string; readonly able: boolean }[];
}

function Work({ view, content, save, people }: WorkProps) {
  const mayWork = useMay('obligations.work');
  const me = useAccount();
  const set = (change: Partial<MeasureWork>) => void save({ ...content, ...change }, 'Saved.');
  const name = (id: number | null, none: string) =>
    id === null ? none : (people.find((p) => p.id === id)?.name ?? 'somebody who is gone');
  const text = (label: string, key: 'plan' | 'how' | 'tested' | 'reason', none: string) => (
    <Slot
      label={label}
      words={content[key] || none}
      fixed={!mayWork}
      edit={{
        kind: 'text',
        long: true,
        most: 4000,
        value: content[key],
        set: (words) => set({ [key]: words }),
      }}
    />
  );
  return (
    <>
      <Sentence label="It is">
        <Slot
          label="State"
          words={content.state}
          fixed={!mayWork}
          edit={{
            kind: 'choice',
            value: content.state,
            // That it does not apply is said with its reason.
            options: MEASURE_STATES.filter((s) => s !== 'not applicable' || content.reason !== '').map(
              (s) => ({
                value: s,
                words: s,
              }),
            ),
            set: (state) => set({ state: state as MeasureWork['state'] }),
          }}
        />
        , owned by{' '}
        <Slot
          label="Owner"
          words={name(content.owner, 'nobody')}
          fixed={!mayWork}
          edit={{
            kind: 'choice',
            value: String(content.owner ?? ''),
            options: people.filter((p) => p.able).map((p) => ({ value: String(p.id), words: p.name })),
            set: (owner) => set({ owner: Number(owner) }),
          }}
        />
        , due{' '}
        <Slot
          label="Due"
          words={content.due === null ? 'on no day' : dateWords(content.due)}
          fixed={!mayWork}
          edit={{
            kind: 'date',
            value: content.due ?? '',
            none: 'on no day',
            set: (due) => set({ due: due === '' ? null : due }),
          }}
        />
      </Sentence>
      <Sentence label="Plan">{text('Plan', 'plan', 'none yet')}</Sentence>
      <Sentence label="Done">
        {text('How it was done', 'how', 'not told yet')}
        {content.doneBy !== null && `, by ${name(content.doneBy, 'nobody')}`}
      </Sentence>
      <Sentence label="Test">
        <span className={view.test === 'failed' ? css['mark'] : undefined}>
          <TestWords measure={view} />
        </span>
        {view.live && `, since ${whenWords(view.live.since)}`}
        {view.testedBy === 'person' && content.state === 'done' && mayWork && (
          <>
            {' · '}
            <Slot
              label="What the test said"
              words={content.test ?? 'not tested'}
              fixed={content.doneBy === me.id}
              edit={{
                kind: 'choice',
                value: content.test ?? '',
                options: [
                  { value: 'passed', words: 'passed' },
                  { value: 'failed', words: 'failed' },
                ],
                set: (test) => set({ test: test as MeasureWork['test'] }),
              }}
            />
            {content.doneBy === me.id && ' (you did it: somebody else tests it)'}
          </>
        )}
        {content.testedBy !== null &&
          ` by ${name(content.testedBy, 'nobody')}${content.testedOn === null ? '' : ` on ${dateWords(content.testedOn)}`}`}
      </Sentence>
      {view.providers.map((p) => (
        <Sentence key={p.provider} label={p.provider}>
          <span className={p.test === 'failed' ? css['mark'] : undefined}>
            {p.test === 'passed' ? '✓ passed' : '◆ failed'}
          </span>{' '}
          until {dateWords(p.until)}: {p.how}
        </Sentence>
      ))}
      {view.testedBy === 'person' && view.providers.length === 0 && (
        <Sentence label="How">{text('How it was tested', 'tested', 'not told yet')}</Sentence>
      )}
      {(mayWork || content.reason !== '') && (
        <Sentence label="Unless">
          it does not apply, because {text('Why it does not apply', 'reason', 'it does')}
        </Sentence>
      )}
    </>
  );
}
