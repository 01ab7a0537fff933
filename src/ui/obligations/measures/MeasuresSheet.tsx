import { useState } from 'react';
import { useDeskLocation } from '../../desk/location.ts';
import { countWords, dateWords } from '../../desk/words.ts';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { measureLink } from '../links.ts';
import { effortWords } from '../obligation-words.ts';
import { needsHand } from '../ObligationsShelf.tsx';
import { useMeasures, useWorkPeople } from '../use-obligations.ts';
import { MeasureState } from './MeasureState.tsx';
import { TestWords } from './TestWords.tsx';
import css from '../obligations.module.css';

/** All measures that assessments ask for; those past their day or with a failing test alone, where that is wished. */
export function MeasuresSheet() {
  const { query } = useDeskLocation();
  const [text, setText] = useState('');
  const all = useMeasures();
  const people = useWorkPeople();
  if (all.isError && !all.data) return <Failure error={all.error} onRetry={() => void all.refetch()} />;
  if (!all.data) return <Loading what="measures" />;
  const failed = query.get('show') === 'failed';
  const owner = (id: number | null) => people.data?.find((p) => p.id === id)?.name ?? '';
  const wanted = text.trim().toLowerCase();
  const shown = all.data.measures.filter(
    (m) =>
      (!failed || needsHand(m)) &&
      (wanted === '' || `${m.name} ${owner(m.owner)} ${m.cycle} ${m.state}`.toLowerCase().includes(wanted)),
  );
  return (
    <>
      <SheetHead
        title={
          failed
            ? shown.length === 0
              ? '✓ Nothing is due or fails'
              : `◆ ${countWords(shown.length, 'measure')} due or failing`
            : countWords(shown.length, 'measure')
        }
        detail="Done once, a measure counts for every framework of its cycle that asks for it"
      />
      <Field label="Narrow by name, owner, cycle or state">
        <input type="search" value={text} onChange={(e) => setText(e.target.value)} />
      </Field>
      {shown.length === 0 ? (
        <Empty title="None of these">
          {failed ? 'Every test passes, and nothing is past its day.' : 'Narrow less.'}
        </Empty>
      ) : (
        <FigureTable
          columns={['Measure', 'Cycle', 'State', 'Its test', 'Owner', 'Due', 'Effort']}
          rows={shown.map((m) => ({
            key: m.key,
            cells: [
              <a href={measureLink(m.key)}>{m.name}</a>,
              m.cycle,
              <MeasureState state={m.state} />,
              <span className={m.test === 'failed' ? css['mark'] : undefined}>
                <TestWords measure={m} />
              </span>,
              owner(m.owner),
              m.due === null ? '' : dateWords(m.due),
              effortWords(m.hours),
            ],
          }))}
        />
      )}
    </>
  );
}
