import { EEA } from '../../../core/eea.ts';
import { useState } from 'react';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import {
  refusedBySignal,
  regimeOf,
  REGIME_WORDS,
  REGIMES,
  RegimeRow,
  startsOn,
  type Regime,
} from '../../../core/websites/notice/regime.ts';
import { REGION_PATTERN, regionName } from '../../../core/websites/notice/region.ts';
import type { ListedRegime } from '../../../server/websites/notices/regimes.ts';
import { useMay } from '../../desk/account-context.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePurposes } from '../library/use-purposes.ts';
import { useRegimes } from './use-regimes.ts';
import shared from '../websites.module.css';
import css from './regimes.module.css';

/** How visitors are asked, region by region and purpose by purpose, with the law behind it. */
export function RegimesSheet() {
  const regimes = useRegimes();
  const purposes = usePurposes();
  const only = useDeskLocation().query.get('regime');
  const fixed = !useMay('websites.edit');
  const [wrong, setWrong] = useState<{ code: string; words: string }>();
  if (regimes.isError) return <Failure error={regimes.error} onRetry={() => void regimes.refetch()} />;
  if (!regimes.data || !purposes.data) return <Loading what="the regimes" />;
  const asked = purposes.data.filter((p) => !p.essential);
  const say = async (before: ListedRegime, change: Partial<RegimeRow>) => {
    const { revision, added, editedBy: _by, editedAt: _at, ...row } = before;
    const next = RegimeRow.safeParse({ ...row, ...change });
    if (!next.success) {
      setWrong({ code: row.code, words: next.error.issues.map((i) => i.message).join(' ') });
      return;
    }
    try {
      await request('PUT', '/api/websites/regimes', { row: next.data, revision });
      setWrong(undefined);
      const back = () =>
        revision === 0 && !added
          ? request('DELETE', `/api/websites/regimes/${row.code}`, { revision: revision + 1 })
          : request('PUT', '/api/websites/regimes', { row, revision: revision + 1 });
      tell('Visitors are asked so within seconds.', { undo: async () => void (await back()) });
    } catch (e) {
      if (e instanceof RequestError && e.refusal.fields.length > 0)
        setWrong({ code: row.code, words: e.refusal.fields.map((f) => f.message).join(' ') });
      else tellFailure(e);
    }
  };
  const takeBack = async ({ code, revision }: ListedRegime) => {
    try {
      await request('DELETE', `/api/websites/regimes/${code}`, { revision });
      tell('What ships holds there again.');
    } catch (e) {
      tellFailure(e);
    }
  };
  const add = (code: string) => {
    const like = regimeOf(code, regimes.data);
    void say(
      { ...like, code, starts: { ...like.starts }, revision: 0, added: true, editedBy: null, editedAt: null },
      {},
    );
  };
  const rows = regimes.data.filter((r) => !only || r.regime === only);
  return (
    <>
      <SheetHead
        title="Regimes"
        detail={`${countWords(regimes.data.length, 'region')} · what runs before a visitor answers, by the law of where they are`}
        actions={!fixed && <AddRegion known={regimes.data} add={add} />}
      />
      <table className={`${shared['plain']} ${css['table']}`} aria-label="Regimes">
        <thead>
          <tr>
            <th>Region</th>
            <th>Law asks</th>
            {asked.map((p) => (
              <th key={p.code} className={css['start']}>
                {p.name}
              </th>
            ))}
            <th title="Global Privacy Control counts as a refusal of selling and sharing">Signal</th>
            <th>Holds</th>
            <th>Law</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row
              key={row.code}
              {...{ row, asked, fixed }}
              wrong={wrong?.code === row.code ? wrong.words : undefined}
              say={(change) => void say(row, change)}
              takeBack={() => void takeBack(row)}
            />
          ))}
        </tbody>
      </table>
      <p className={css['legend']}>
        ● runs until refused · ○ waits to be allowed · ⊘ runs until refused, and the signal refuses it
      </p>
    </>
  );
}

function Row({
  row,
  asked,
  fixed,
  wrong,
  say,
  takeBack,
}: {
  readonly row: ListedRegime;
  readonly asked: readonly Purpose[];
  readonly fixed: boolean;
  readonly wrong: string | undefined;
  readonly say: (change: Partial<RegimeRow>) => void;
  readonly takeBack: () => void;
}) {
  const name = nameOf(row.code);
  const signalled = refusedBySignal(row, asked);
  return (
    <tr>
      <th scope="row">
        {name}
        {row.revision > 0 && (
          <div className={css['said']} title={row.editedAt ? whenWords(row.editedAt) : undefined}>
            said by {row.editedBy ?? 'someone'}
            {!fixed && (
              <button type="button" aria-label={`Take back what is said of ${name}`} onClick={takeBack}>
                {row.added ? 'take out' : 'as it ships'}
              </button>
            )}
          </div>
        )}
        {wrong && (
          <div role="alert" className={css['wrong']}>
            ◆ {wrong}
          </div>
        )}
      </th>
      <td>
        <Slot
          label={`Regime of ${name}`}
          words={row.regime}
          fixed={fixed}
          title={REGIME_WORDS[row.regime]}
          edit={{
            kind: 'choice',
            value: row.regime,
            options: REGIMES.map((r) => ({ value: r, words: r, detail: REGIME_WORDS[r] })),
            // What started on by hand cannot where the law asks first.
            set: (regime) => say({ regime: regime as Regime, starts: {} }),
          }}
        />
      </td>
      {asked.map((p) => {
        const on = startsOn(row, p);
        const mark = on ? (signalled.includes(p.code) ? '⊘' : '●') : '○';
        const words = `${p.name} in ${name}: ${on ? 'runs until refused' : 'waits to be allowed'}`;
        return (
          <td key={p.code} className={css['start']}>
            {fixed || row.regime === 'ask first' ? (
              <span role="img" aria-label={words} title={words}>
                {mark}
              </span>
            ) : (
              <button
                type="button"
                aria-pressed={on}
                aria-label={words}
                title={words}
                onClick={() => say({ starts: { ...row.starts, [p.code]: on ? 'off' : 'on' } })}
              >
                {mark}
              </button>
            )}
          </td>
        );
      })}
      <td>
        <Slot
          label={`Signal in ${name}`}
          words={row.signal ? 'counts' : 'not'}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: row.signal ? 'yes' : 'no',
            options: [
              { value: 'yes', words: 'counts', detail: 'refuses selling and sharing' },
              { value: 'no', words: 'not', detail: 'says nothing there' },
            ],
            set: (v) => say({ signal: v === 'yes' }),
          }}
        />
      </td>
      <td>
        <Slot
          label={`How long an answer holds in ${name}`}
          words={row.months === null ? 'as the notice' : countWords(row.months, 'month')}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: String(row.months ?? ''),
            options: ['', '3', '6', '12', '13', '24'].map((m) => ({
              value: m,
              words: m === '' ? 'as the notice' : countWords(Number(m), 'month'),
            })),
            set: (v) => say({ months: v === '' ? null : Number(v) }),
          }}
        />
      </td>
      <td className={css['law']}>
        <Slot
          label={`Law of ${name}`}
          words={row.law}
          fixed={fixed}
          edit={{ kind: 'text', most: 300, value: row.law, set: (law) => say({ law }) }}
        />
      </td>
    </tr>
  );
}

/** A region of the organisation's own, which begins as the one that holds there now. */
function AddRegion({
  known,
  add,
}: {
  readonly known: readonly ListedRegime[];
  readonly add: (code: string) => void;
}) {
  return (
    <Slot
      label="Add a region"
      words="Add a region"
      edit={{
        kind: 'text',
        most: 6,
        value: '',
        hint: 'Its ISO 3166 code, such as JP or DE-BY',
        check: (text) => {
          const code = text.trim().toUpperCase();
          if (code === '') return '';
          if (!REGION_PATTERN.test(code)) return 'Write a code such as JP or DE-BY';
          return known.some((r) => r.code === code) ? `${nameOf(code)} is there already` : '';
        },
        set: (text) => {
          const code = text.trim().toUpperCase();
          if (REGION_PATTERN.test(code) && !known.some((r) => r.code === code)) add(code);
        },
      }}
    />
  );
}

export function nameOf(code: string): string {
  if (code === 'EEA') return `${regionName(code)} (${EEA.length})`;
  return code === 'ZZ' ? 'Everywhere else' : regionName(code);
}
