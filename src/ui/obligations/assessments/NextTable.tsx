import { useState } from 'react';
import { NEW_WORK, type MeasureWork } from '../../../core/obligations/work/measure-work.ts';
import type { NextView } from '../../../server/obligations/assessments/assessment-view.ts';
import { useAccount, useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { dateWords } from '../../desk/words.ts';
import { SelectField } from '../../parts/SelectField.tsx';
import { Field } from '../../parts/Field.tsx';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { measureLink } from '../links.ts';
import { MeasureState } from '../measures/MeasureState.tsx';
import { TestWords } from '../measures/TestWords.tsx';
import { effortWords, pointsWords } from '../obligation-words.ts';
import { useWorkPeople } from '../use-obligations.ts';
import css from '../obligations.module.css';

/** Measures that give nothing yet, those with the most points for the effort first. */
export function NextTable({
  next,
  families,
}: {
  readonly next: readonly NextView[];
  readonly families: readonly { readonly id: string; readonly name: string }[];
}) {
  const [text, setText] = useState('');
  const [narrowed, setNarrowed] = useState<Narrowed>(ALL);
  const people = useWorkPeople();
  const me = useAccount();
  const mayWork = useMay('obligations.work');
  if (next.length === 0)
    return <Empty title="Nothing is left to do">Every measure that applies gives its share.</Empty>;
  const nameOf = (id: number | null) => people.data?.find((p) => p.id === id)?.name;
  const wanted = text.trim().toLowerCase();
  const owners = [...new Set(next.flatMap((n) => n.owner ?? []))].map((id) => ({
    value: String(id),
    words: nameOf(id) ?? 'somebody who is gone',
  }));
  const today = new Date().toISOString().slice(0, 10);
  const shown = next
    .filter((n) => holdsFor(n, narrowed, today))
    .filter((n) =>
      [
        n.name,
        n.state,
        nameOf(n.owner) ?? 'nobody',
        n.test === 'failed' ? 'failed' : '',
        ...n.serves.map((s) => s.framework),
      ]
        .join(' ')
        .toLowerCase()
        .includes(wanted),
    );
  return (
    <>
      <div className={css['filters']}>
        <Field label="Narrow by words">
          <input type="search" value={text} onChange={(e) => setText(e.target.value)} />
        </Field>
        <SelectField
          label="Owner"
          value={narrowed.owner}
          options={[
            { value: '', words: 'any owner' },
            { value: 'nobody', words: 'owned by nobody' },
            { value: String(me.id), words: 'mine' },
            ...owners.filter((o) => o.value !== String(me.id)),
          ]}
          onChange={(owner) => setNarrowed({ ...narrowed, owner })}
        />
        <SelectField
          label="Due"
          value={narrowed.due}
          options={DUE}
          onChange={(due) => setNarrowed({ ...narrowed, due })}
        />
        <SelectField
          label="Family"
          value={narrowed.family}
          options={[
            { value: '', words: 'all families' },
            ...families.map((f) => ({ value: f.id, words: f.name })),
          ]}
          onChange={(family) => setNarrowed({ ...narrowed, family })}
        />
        <SelectField
          label="Test"
          value={narrowed.test}
          options={[
            { value: '', words: 'any test' },
            { value: 'failed', words: 'test failed' },
            { value: 'none', words: 'not tested' },
          ]}
          onChange={(test) => setNarrowed({ ...narrowed, test })}
        />
      </div>
      {shown.length === 0 && <Empty title="None of these">Narrow less.</Empty>}
      <FigureTable
        columns={['Measure', 'Serves', { figure: 'Gains' }, 'Effort', 'State', 'Its test', 'Due', 'Owner']}
        rows={shown.map((n) => ({
          key: n.key,
          cells: [
            <a href={measureLink(n.key)}>{n.name}</a>,
            n.serves.map((s) => `${s.framework} ${s.refs.map(shortRef).join(', ')}`).join(' · '),
            `+${pointsWords(n.gain)}`,
            effortWords(n.hours),
            <MeasureState state={n.state} />,
            <span className={n.test === 'failed' ? css['mark'] : undefined}>
              <TestWords measure={n} />
            </span>,
            n.due === null ? (
              ''
            ) : n.due < today ? (
              <span className={css['mark']}>◆ {dateWords(n.due)}</span>
            ) : (
              dateWords(n.due)
            ),
            nameOf(n.owner) ??
              (mayWork ? (
                <Button
                  kind="quiet"
                  aria-label={`Take on “${n.name}”`}
                  onClick={() => void takeOn(n.key, me.id, n.name)}
                >
                  Take it on
                </Button>
              ) : (
                'nobody'
              )),
          ],
        }))}
      />
    </>
  );
}

interface Narrowed {
  readonly owner: string;
  readonly due: string;
  readonly family: string;
  readonly test: string;
}
const ALL: Narrowed = { owner: '', due: '', family: '', test: '' };

const DAY = 86_400_000;
const DUE = [
  { value: '', words: 'any day' },
  { value: 'late', words: 'past its day' },
  { value: '30', words: 'due in 30 days' },
  { value: 'none', words: 'due on no day' },
];

function holdsFor(n: NextView, { owner, due, family, test }: Narrowed, today: string): boolean {
  if (owner !== '' && String(n.owner ?? 'nobody') !== owner) return false;
  if (family !== '' && !n.families.includes(family)) return false;
  if (test !== '' && (n.test ?? 'none') !== test) return false;
  if (due === 'none') return n.due === null;
  if (due === 'late') return n.due !== null && n.due < today;
  const last = new Date(Date.parse(today) + Number(due) * DAY).toISOString().slice(0, 10);
  return due === '' || (n.due !== null && n.due <= last);
}

/** “Art. 30(1)” as “30(1)”: the heading names the framework. */
const shortRef = (ref: string) => ref.replace(/^(?:UK GDPR )?(?:Art\.|Annex A|Clause|s\.) ?/, '');

/** Owns it and begins it, in one act. */
async function takeOn(key: string, me: number, name: string): Promise<void> {
  const path = `/api/objects/${encodeURIComponent('measure work')}/${encodeURIComponent(key)}`;
  try {
    const { content, revision } = await request<{ content: MeasureWork; revision: number }>('GET', path);
    const base = content ?? NEW_WORK;
    const state = base.state === 'planned' ? 'in work' : base.state;
    await request('PUT', path, { revision, base, content: { ...base, owner: me, state } });
    tell(`“${name}” is yours.`);
  } catch (error) {
    tellFailure(error);
  }
}
