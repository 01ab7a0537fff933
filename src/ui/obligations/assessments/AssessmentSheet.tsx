import { useState } from 'react';
import type { Weights } from '../../../core/obligations/readiness/weights.ts';
import type { AssessmentContent } from '../../../core/obligations/work/assessment-content.ts';
import type { AssessmentView } from '../../../server/obligations/assessments/assessment-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Tabs } from '../../parts/Tabs.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { measureLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessment, useWorkPeople } from '../use-obligations.ts';
import { AssessmentScopeLine } from './AssessmentScopeLine.tsx';
import { ControlsList } from './ControlsList.tsx';
import { NextTable } from './NextTable.tsx';
import { ReadinessBar } from './ReadinessBar.tsx';
import css from '../obligations.module.css';

const TABS = ['next', 'controls'] as const;
type TabId = (typeof TABS)[number];

/** How far an assessment is, what to do next, and control by control. */
export function AssessmentSheet({ id }: { readonly id: string }) {
  const view = useAssessment(id);
  const mayWork = useMay('obligations.work');
  const { query } = useDeskLocation();
  if (view.isError && !view.data) return <Failure error={view.error} onRetry={() => void view.refetch()} />;
  if (!view.data) return <Loading what="the assessment" />;
  const a = view.data;
  const asked = query.get('tab') as TabId | null;
  const tab: TabId = asked && TABS.includes(asked) ? asked : 'next';
  const family = query.get('family');
  const [began] = a.days.length > 1 ? a.days : [];
  const take = (as: string) => location.assign(`/api/obligations/assessments/${id}/export?as=${as}`);
  return (
    <>
      <SheetHead
        title={a.name}
        detail={<Head view={a} />}
        actions={
          <>
            <MenuButton
              label="Export the proof"
              acts={[
                { id: 'pdf', words: 'To read (PDF)', act: () => take('pdf') },
                { id: 'xlsx', words: 'Workbook (XLSX)', act: () => take('xlsx') },
                { id: 'oscal', words: 'Assessment results (OSCAL 1.1)', act: () => take('oscal') },
                { id: 'json', words: 'File that anyone can count (JSON)', act: () => take('json') },
              ]}
            />
            {mayWork && a.next[0] && (
              <Button kind="primary" onClick={() => go(measureLink(a.next[0]?.key ?? ''))}>
                Work on the next
              </Button>
            )}
          </>
        }
      />
      <AssessmentScopeLine id={a.id} />
      <div className={css['answer']}>
        <div>
          <p className={css['ready']} aria-label="Readiness">
            {readyWords(a.tally)}
          </p>
          <p className={css['note']}>
            of 100: {pointsWords(a.tally.given)} of {pointsWords(a.tally.applicable)} points
          </p>
          <HowCounted />
          {began && (
            <p className={css['note']}>
              {readyWords(began)} when it began, {dateWords(began.day)}
            </p>
          )}
        </div>
        <ul className={css['families']} aria-label="By family">
          {a.families.map((f) => (
            <li key={f.id}>
              <a
                href={`?tab=controls&family=${f.id}`}
                onClick={(e) => {
                  e.preventDefault();
                  setQuery({ tab: 'controls', family: f.id }, 'push');
                }}
              >
                <ReadinessBar name={f.name} points={f.tally} failed={f.failed} />
              </a>
            </li>
          ))}
        </ul>
      </div>
      <Tabs
        label="Of this assessment"
        tabs={[
          { id: 'next', name: 'What to do next', count: a.next.length },
          { id: 'controls', name: 'Controls', count: a.controls.length },
        ]}
        chosen={tab}
        onChoose={(t) => setQuery({ tab: t, family: null })}
      />
      <div id="tabpanel" role="tabpanel" className={css['wide']} aria-labelledby={`tab-${tab}`}>
        {tab === 'next' ? (
          <NextTable next={a.next} families={a.families} />
        ) : (
          <ControlsList view={a} family={family} />
        )}
      </div>
    </>
  );
}

function Head({ view }: { readonly view: AssessmentView }) {
  const mayEdit = useMay('obligations.edit');
  const { query, save } = usePlainObject<AssessmentContent>('assessment', view.id);
  const people = useWorkPeople();
  const content = query.data?.content;
  if (!content || !people.data) return <>Cycle {view.cycle}</>;
  const name = (id: number | null) =>
    id === null ? 'nobody' : (people.data.find((p) => p.id === id)?.name ?? 'somebody who is gone');
  return (
    <>
      Cycle {view.cycle} · due{' '}
      <Slot
        label="Due"
        words={content.due === null ? 'no day' : dateWords(content.due)}
        fixed={!mayEdit}
        edit={{
          kind: 'date',
          value: content.due ?? '',
          none: 'no day',
          set: (due) => void save({ ...content, due: due === '' ? null : due }, 'Saved.'),
        }}
      />{' '}
      · led by{' '}
      <Slot
        label="Who leads it"
        words={name(content.lead)}
        fixed={!mayEdit}
        edit={{
          kind: 'choice',
          value: String(content.lead ?? ''),
          options: people.data.filter((p) => p.able).map((p) => ({ value: String(p.id), words: p.name })),
          set: (lead) => void save({ ...content, lead: Number(lead) }, `${name(Number(lead))} leads it.`),
        }}
      />{' '}
      · framework of {dateWords(view.framework.version)}
      {view.newer === null ? ', current' : ''}
    </>
  );
}

function HowCounted() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className={css['quiet']} aria-expanded={open} onClick={() => setOpen(!open)}>
        how it is counted
      </button>
      {open && <Weighing />}
    </>
  );
}

const MOST_WEIGHT = 10;

function Weighing() {
  const mayEdit = useMay('obligations.edit');
  const { query, save } = usePlainObject<Weights>('readiness weights', 1);
  const weights = query.data?.content;
  if (!weights) return null;
  const slot = (value: number, name: string, set: (value: number) => Weights) => (
    <>
      {name}{' '}
      <Slot
        label={`Weight of ${name}`}
        words={String(value)}
        fixed={!mayEdit}
        edit={{
          kind: 'number',
          unit: '',
          least: 0,
          most: MOST_WEIGHT,
          value,
          set: (v) => void save(set(v), 'It counts so from now on, in all assessments.'),
        }}
      />
    </>
  );
  const { duty, kind } = weights;
  return (
    <p className={css['note']}>
      A control weighs duty (
      {slot(duty.required, 'required', (v) => ({ ...weights, duty: { ...duty, required: v } }))},{' '}
      {slot(duty['by choice'], 'by choice', (v) => ({ ...weights, duty: { ...duty, 'by choice': v } }))}) ×
      kind ({slot(kind.prevents, 'prevents', (v) => ({ ...weights, kind: { ...kind, prevents: v } }))},{' '}
      {slot(kind.detects, 'detects', (v) => ({ ...weights, kind: { ...kind, detects: v } }))},{' '}
      {slot(kind.corrects, 'corrects', (v) => ({ ...weights, kind: { ...kind, corrects: v } }))}) × risk (1 to
      5). Its points are shared evenly by its measures that apply. One gives its share where its test passed
      and its evidence is not past its date.
    </p>
  );
}
