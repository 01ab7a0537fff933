import { useState } from 'react';
import {
  isHigh,
  LIKELIHOOD,
  SEVERITY,
  weighRisk,
  type ProposedRisk,
  type Risk,
  type RiskMeasure,
} from '../../../core/cases/impact/risk.ts';
import { dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import css from '../cases.module.css';

interface RiskListProps {
  readonly risks: readonly Risk[];
  readonly proposed: readonly ProposedRisk[];
  readonly fixed: boolean;
  readonly set: (risks: Risk[]) => void;
}

/** Risks to people: what they are without measures, with what is done, and with all that is planned. */
export function RiskList({ risks, proposed, fixed, set }: RiskListProps) {
  const [edited, setEdited] = useState<{ readonly at: number; readonly risk: Risk }>();
  const put = (at: number, risk: Risk) =>
    set(at < risks.length ? risks.map((r, i) => (i === at ? risk : r)) : [...risks, risk]);
  const level = (l: string, high: boolean) => (high ? <span className={css['mark']}>◆ {l}</span> : l);
  return (
    <>
      {risks.length > 0 && (
        <table className={css['table']} aria-label="Risks to people">
          <thead>
            <tr>
              <th scope="col">What could happen</th>
              <th scope="col">Without measures</th>
              <th scope="col">Measures</th>
              <th scope="col">Now</th>
              <th scope="col">With all</th>
            </tr>
          </thead>
          <tbody>
            {risks.map(weighRisk).map((w, n) => (
              <tr key={n}>
                <td>
                  {fixed ? (
                    w.risk.what
                  ) : (
                    <button
                      type="button"
                      className={css['linkButton']}
                      onClick={() => setEdited({ at: n, risk: w.risk })}
                    >
                      {w.risk.what}
                    </button>
                  )}
                  {w.risk.harm && <span className={css['place']}> {w.risk.harm}</span>}
                </td>
                <td>
                  {level(w.before, isHigh(w.before))}{' '}
                  <span className={css['place']}>
                    {w.risk.likelihood} × {w.risk.severity}
                  </span>
                </td>
                <td>
                  {w.risk.measures.map((m, i) => (
                    <div key={i}>
                      {m.done ? '✓' : '○'} {m.what}
                      {!m.done && m.due && <span className={css['place']}> by {dateWords(m.due)}</span>}
                    </div>
                  ))}
                </td>
                <td>{level(w.now, isHigh(w.now))}</td>
                <td>
                  {level(w.planned, isHigh(w.planned))}{' '}
                  <span className={css['place']}>
                    {w.left.likelihood} × {w.left.severity}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {!fixed && proposed.length > 0 && (
        <ul className={css['bearers']} aria-label="Proposed risks">
          {proposed.map((p) => (
            <li key={p.risk.what}>
              <span>
                ○ {p.risk.what}, {weighRisk(p.risk).before}{' '}
                <span className={css['place']}>because of {p.because}</span>
              </span>
              <Button onClick={() => set([...risks, p.risk])}>Take it in</Button>
            </li>
          ))}
        </ul>
      )}
      {!fixed && (
        <div className={css['acts']}>
          <Button
            onClick={() =>
              setEdited({
                at: risks.length,
                risk: { what: '', harm: '', likelihood: 2, severity: 2, measures: [] },
              })
            }
          >
            Add a risk
          </Button>
        </div>
      )}
      {edited && (
        <RiskDialog
          risk={edited.risk}
          onKeep={(risk) => {
            put(edited.at, risk);
            setEdited(undefined);
          }}
          onTakeOut={
            edited.at < risks.length
              ? () => {
                  set(risks.filter((_, i) => i !== edited.at));
                  setEdited(undefined);
                }
              : undefined
          }
          onClose={() => setEdited(undefined)}
        />
      )}
    </>
  );
}

const STEPS = [0, 1, 2, 3];

function RiskDialog({
  risk,
  onKeep,
  onTakeOut,
  onClose,
}: {
  readonly risk: Risk;
  readonly onKeep: (risk: Risk) => void;
  readonly onTakeOut: (() => void) | undefined;
  readonly onClose: () => void;
}) {
  const [r, setR] = useState(risk);
  const set = (more: Partial<Risk>) => setR({ ...r, ...more });
  const w = weighRisk(r);
  const measure = (at: number, more: Partial<RiskMeasure>) =>
    set({ measures: r.measures.map((m, i) => (i === at ? { ...m, ...more } : m)) });
  const scale = (key: 'likelihood' | 'severity', label: string, words: readonly string[]) => (
    <Field label={label}>
      <select value={r[key]} onChange={(e) => set({ [key]: Number(e.target.value) })}>
        {words.map((word, i) => (
          <option key={word} value={i + 1}>
            {i + 1}, {word}
          </option>
        ))}
      </select>
    </Field>
  );
  const missing = r.what.trim() === '' || r.measures.some((m) => m.what.trim() === '');
  return (
    <DialogForm
      title="A risk to people"
      onClose={onClose}
      onSubmit={() => {
        if (!missing) onKeep(r);
      }}
      act={`Keep it: ${w.before}, then ${w.planned}`}
      busy={false}
      refused={undefined}
    >
      <Field label="What could happen" error={r.what.trim() === '' ? 'Say what could happen.' : undefined}>
        <input autoFocus value={r.what} maxLength={300} onChange={(e) => set({ what: e.target.value })} />
      </Field>
      <Field label="What it would mean for them">
        <input value={r.harm} maxLength={500} onChange={(e) => set({ harm: e.target.value })} />
      </Field>
      <div className={css['two']}>
        {scale('likelihood', 'How likely it is', LIKELIHOOD)}
        {scale('severity', 'How grave it would be', SEVERITY)}
      </div>
      {r.measures.map((m, n) => (
        <fieldset key={n} className={css['measure']}>
          <legend>Measure {n + 1}</legend>
          <Field label="What is done" error={m.what.trim() === '' ? 'Say what is done.' : undefined}>
            <input value={m.what} maxLength={300} onChange={(e) => measure(n, { what: e.target.value })} />
          </Field>
          <div className={css['two']}>
            {(['likelihood', 'severity'] as const).map((key) => (
              <Field key={key} label={key === 'likelihood' ? 'Less likely by' : 'Less grave by'}>
                <select value={m[key]} onChange={(e) => measure(n, { [key]: Number(e.target.value) })}>
                  {STEPS.map((s) => (
                    <option key={s} value={s}>
                      {s} {s === 1 ? 'step' : 'steps'}
                    </option>
                  ))}
                </select>
              </Field>
            ))}
            <Field label="Due">
              <input
                type="date"
                value={m.due}
                disabled={m.done}
                onChange={(e) => measure(n, { due: e.target.value })}
              />
            </Field>
            <label className={css['tick']}>
              <input
                type="checkbox"
                checked={m.done}
                onChange={(e) =>
                  measure(n, { done: e.target.checked, ...(e.target.checked ? { due: '' } : {}) })
                }
              />{' '}
              It is done
            </label>
          </div>
          <Button onClick={() => set({ measures: r.measures.filter((_, i) => i !== n) })}>Take it out</Button>
        </fieldset>
      ))}
      <div className={css['acts']}>
        <Button
          onClick={() =>
            set({ measures: [...r.measures, { what: '', likelihood: 1, severity: 0, done: false, due: '' }] })
          }
        >
          Add a measure
        </Button>
        {onTakeOut && <Button onClick={onTakeOut}>Take the risk out</Button>}
      </div>
    </DialogForm>
  );
}
