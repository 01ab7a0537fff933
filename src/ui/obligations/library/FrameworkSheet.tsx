import { useState } from 'react';
import type { Control, Framework } from '../../../core/obligations/framework/framework.ts';
import type { FrameworkView } from '../../../server/obligations/library/library-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords, dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { Field } from '../../parts/Field.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { effortWords } from '../obligation-words.ts';
import { useDifferences, useFramework } from '../use-obligations.ts';
import { COVERED, Compared, coverage, type Covered } from './Compared.tsx';
import { DifferenceList } from './DifferenceList.tsx';
import { OwnFramework, OwnParts } from './OwnFramework.tsx';
import css from '../obligations.module.css';

/** A framework to read before it is started: control by control, with the measures that answer it. */
export function FrameworkSheet({ id }: { readonly id: string }) {
  const { query } = useDeskLocation();
  const beside = query.get('beside') ?? undefined;
  const view = useFramework(id, beside);
  const mayStart = useMay('obligations.edit');
  const [shown, setShown] = useState<Covered | 'all'>('all');
  const [text, setText] = useState('');
  if (view.isError && !view.data) return <Failure error={view.error} onRetry={() => void view.refetch()} />;
  if (!view.data) return <Loading what="the framework" />;
  const { framework: f } = view.data;
  const wanted = text.trim().toLowerCase();
  const covered = coverage(view.data);
  const found = f.controls
    .filter((c) => shown === 'all' || covered(c) === shown)
    .filter(
      (c) =>
        wanted === '' ||
        [c.ref, c.name, c.guidance, ...c.measures.map((m) => view.data.measures[m]?.name ?? '')].some((w) =>
          w.toLowerCase().includes(wanted),
        ),
    );
  const save = (what: string) =>
    location.assign(`/api/obligations/library/${encodeURIComponent(f.id)}/${what}`);
  const from = query.get('from') ?? undefined;
  return (
    <>
      <SheetHead
        title={f.name}
        detail={`${f.title} · ${f.issuer} · as of ${dateWords(f.version)}`}
        actions={
          <>
            <MenuButton
              label="Take it out"
              acts={[
                { id: 'xlsx', words: 'Workbook (XLSX)', act: () => save('export?as=xlsx') },
                { id: 'json', words: 'JSON', act: () => save('export?as=json') },
                { id: 'oscal', words: 'OSCAL 1.1', act: () => save('export?as=oscal') },
                { id: 'extend', words: 'Extend it: a workbook to fill in', act: () => save('extend') },
              ]}
            />
            {mayStart && (
              <Button kind="primary" onClick={() => setQuery({ new: 'assessment', framework: f.id }, 'push')}>
                Start an assessment
              </Button>
            )}
          </>
        }
      />
      <p className={css['note']}>
        {f.whole ? '✓ All of it. ' : '○ A part. '}
        {f.covers}
      </p>
      <OwnParts own={view.data.own} />
      {from !== undefined && <Differences id={id} from={from} />}
      <Field label="Search in it">
        <input type="search" value={text} onChange={(e) => setText(e.target.value)} />
      </Field>
      <Compared view={view.data} covered={covered} shown={shown} onShow={setShown} />
      {found.length === 0 && (
        <Empty title="Nothing of it holds this">Try a word of the law, or an article.</Empty>
      )}
      <Families framework={f} found={found} view={view.data} covered={covered} />
      <OwnFramework view={view.data} />
    </>
  );
}

function Families({
  framework,
  found,
  view,
  covered,
}: {
  readonly framework: Framework;
  readonly covered: (control: Control) => Covered;
  readonly found: Framework['controls'];
  readonly view: FrameworkView;
}) {
  return framework.families.map((family) => {
    const controls = found.filter((c) => c.family === family.id);
    if (controls.length === 0) return null;
    return (
      <section key={family.id}>
        <h2 className={css['heading']}>
          {family.name} · {countWords(controls.length, 'control')}
        </h2>
        {controls.map((c) => (
          <details key={c.id} className={css['control']}>
            <summary>
              <span>
                <b>{c.ref}</b> {c.name}
              </span>
              <span className={css['of']}>
                {COVERED[covered(c)]} {c.duty}, {c.kind}, risk {c.risk}
              </span>
            </summary>
            <p>{c.guidance}</p>
            <ul className={css['plain']}>
              {c.measures.map((m) => {
                const measure = view.measures[m];
                return (
                  <li key={m}>
                    {view.done.includes(m) ? '✓ ' : ''}
                    {measure?.name ?? m}
                    <small>
                      {measure && effortWords(measure.hours)}
                      {measure?.whose === 'provider' && ' · a provider’s'}
                    </small>
                  </li>
                );
              })}
            </ul>
          </details>
        ))}
      </section>
    );
  });
}

function Differences({ id, from }: { readonly id: string; readonly from: string }) {
  const { data } = useDifferences(id, from);
  if (!data) return <Loading what="what is new" />;
  return (
    <section>
      <h2 className={css['heading']}>What it says otherwise than on {dateWords(from)}</h2>
      <DifferenceList
        differences={data.differences.map((d) => ({ ...d, key: d.control, words: `${d.ref} ${d.name}` }))}
      />
    </section>
  );
}
