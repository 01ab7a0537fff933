import { useState } from 'react';
import { NEW_WORK, type MeasureWork } from '../../../core/obligations/work/measure-work.ts';
import type { NextView } from '../../../server/obligations/assessments/assessment-view.ts';
import { useAccount, useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
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
export function NextTable({ next }: { readonly next: readonly NextView[] }) {
  const [text, setText] = useState('');
  const people = useWorkPeople();
  const me = useAccount();
  const mayWork = useMay('obligations.work');
  if (next.length === 0)
    return <Empty title="Nothing is left to do">Every measure that applies gives its share.</Empty>;
  const nameOf = (id: number | null) => people.data?.find((p) => p.id === id)?.name;
  const wanted = text.trim().toLowerCase();
  const shown = next.filter((n) =>
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
      <Field label="Narrow by name, owner, state, failed or framework">
        <input type="search" value={text} onChange={(e) => setText(e.target.value)} />
      </Field>
      <FigureTable
        columns={['Measure', 'Serves', { figure: 'Gains' }, 'Effort', 'State', 'Its test', 'Owner']}
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
