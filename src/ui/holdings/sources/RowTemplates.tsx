import { useState } from 'react';
import {
  ROW_PERIODS,
  type RowPeriod,
  type RowTemplate,
} from '../../../core/holdings/sources/row-template.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { useTables } from './use-sources.ts';
import css from '../estate.module.css';

interface RowTemplatesProps {
  readonly source: string;
  readonly templates: readonly RowTemplate[];
  readonly fixed: boolean;
  readonly onSet: (templates: RowTemplate[]) => void;
}

/** Tables whose rows are told apart by their day: only of those can old rows be let go, or made anonymous. */
export function RowTemplates({ source, templates, fixed, onSet }: RowTemplatesProps) {
  const [adding, setAdding] = useState(false);
  const tables = useTables(source, !fixed && (templates.length > 0 || adding));
  const change = (table: string, more: Partial<RowTemplate>) =>
    onSet(templates.map((t) => (t.table === table ? { ...t, ...more } : t)));
  return (
    <section aria-label="Rows by their day">
      <h2 className={css['heading']}>Rows by their day</h2>
      {templates.length === 0 && (
        <p className={css['note']}>
          Tables are read in groups of rows, and nothing of them is let go. Name a column of days, and a rule
          can let old rows go without the others.
        </p>
      )}
      {templates.map((t) => {
        const columns = tables.data?.find((of) => of.table === t.table)?.columns ?? [];
        return (
          <Sentence key={t.table} label={t.table}>
            by{' '}
            <Slot
              label={`Day of ${t.table}`}
              words={t.day}
              fixed={fixed}
              edit={{
                kind: 'choice',
                value: t.day,
                options: columns.filter((c) => c.isDay).map((c) => ({ value: c.name, words: c.name })),
                set: (day) => change(t.table, { day }),
              }}
            />
            , those of a{' '}
            <Slot
              label={`Period of ${t.table}`}
              words={ROW_PERIODS[t.by]}
              fixed={fixed}
              edit={{
                kind: 'choice',
                value: t.by,
                options: Object.entries(ROW_PERIODS).map(([value, words]) => ({ value, words })),
                set: (by) => change(t.table, { by: by as RowPeriod }),
              }}
            />{' '}
            together; made anonymous by emptying{' '}
            <Slot
              label={`Columns emptied in ${t.table}`}
              words={t.blank.length === 0 ? 'what detectors find' : t.blank.join(', ')}
              fixed={fixed}
              edit={{
                kind: 'many',
                value: t.blank,
                options: columns
                  .filter((c) => c.name !== t.day)
                  .map((c) => ({ value: c.name, words: c.name })),
                set: (blank) => change(t.table, { blank: [...blank] }),
              }}
            />
            .{' '}
            {!fixed && (
              <Button
                kind="quiet"
                aria-label={`Take ${t.table} out`}
                onClick={() => onSet(templates.filter((of) => of.table !== t.table))}
              >
                Take it out
              </Button>
            )}
          </Sentence>
        );
      })}
      {!fixed && <Button onClick={() => setAdding(true)}>Name a table …</Button>}
      {adding && (
        <AddTemplate
          tables={(tables.data ?? []).filter((t) => !templates.some((of) => of.table === t.table))}
          trouble={
            tables.isError ? tables.error.message : tables.isPending ? 'Its tables are being read …' : ''
          }
          onAdd={(made) => {
            onSet([...templates, made]);
            setAdding(false);
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </section>
  );
}

function AddTemplate({
  tables,
  trouble,
  onAdd,
  onClose,
}: {
  readonly tables: NonNullable<ReturnType<typeof useTables>['data']>;
  readonly trouble: string;
  readonly onAdd: (made: RowTemplate) => void;
  readonly onClose: () => void;
}) {
  const usable = tables.filter((t) => t.columns.some((c) => c.isDay));
  const [table, setTable] = useState<string>();
  const [day, setDay] = useState<string>();
  const chosen = usable.find((t) => t.table === table) ?? usable[0];
  const days = chosen?.columns.filter((c) => c.isDay).map((c) => c.name) ?? [];
  const by = day !== undefined && days.includes(day) ? day : days[0];
  return (
    <DialogForm
      title="Rows by their day"
      onClose={onClose}
      onSubmit={() => {
        if (chosen && by) onAdd({ table: chosen.table, day: by, by: 'month', blank: [] });
      }}
      act="Tell its rows apart"
      disabled={!chosen}
    >
      {chosen && by ? (
        <>
          <ChoiceField
            label="Table"
            value={chosen.table}
            options={usable.map((t) => ({ value: t.table, words: t.table }))}
            onChange={setTable}
          />
          <ChoiceField
            label="Its rows count as made and changed on"
            value={by}
            options={days.map((d) => ({ value: d, words: d }))}
            onChange={setDay}
          />
          <p>
            Rows of a month are one item from the next survey on. Which columns are emptied, and another
            period, is set after.
          </p>
        </>
      ) : (
        <Field label="Table">
          <input disabled value={trouble || 'No other table of it has a column of days.'} />
        </Field>
      )}
    </DialogForm>
  );
}
