import { withCapital } from '../../../core/text/as-sentence.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords, dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { DOSSIERS, dossierLink, type DossierWhat } from '../links.ts';
import { useDossiers } from './use-dossiers.ts';
import css from '../cases.module.css';

/** All of a kind: what is wrong first, then what something has to happen to. */
export function DossierRegister({
  what,
  chosen,
}: {
  readonly what: DossierWhat;
  readonly chosen: string | undefined;
}) {
  const all = useDossiers(what);
  const mayAdd = useMay('cases.dossiers');
  if (all.isError && !all.data) return <Failure error={all.error} onRetry={() => void all.refetch()} />;
  const rows = (all.data ?? []).map((d) => ({
    ...{ id: String(d.id), href: dossierLink(what, d.id), name: d.name },
    group: d.isWrong ? 'look again' : d.needs > 0 ? 'to be done' : 'nothing to do',
    detail: d.isWrong ? (
      <span className={css['mark']}>◆ {d.next}</span>
    ) : d.needs > 0 ? (
      `○ ${d.next}`
    ) : (
      `✓ ${d.state || 'being looked at'}`
    ),
  }));
  return (
    <RegisterList
      what={DOSSIERS[what].several}
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayAdd ? <Button onClick={() => setQuery({ new: what }, 'push')}>New</Button> : undefined}
      empty={all.isPending ? 'Loading …' : 'None yet. Press N to begin one.'}
    />
  );
}

/** All of a kind as a table. */
export function DossierTable({ what }: { readonly what: DossierWhat }) {
  const all = useDossiers(what);
  if (!all.data) return null;
  const wrong = all.data.filter((d) => d.isWrong).length;
  const open = all.data.filter((d) => d.needs > 0).length;
  return (
    <>
      <p className={css['answer']}>
        {wrong > 0 ? (
          <span className={css['mark']}>◆ {countWords(wrong, 'has', 'have')} to be looked at again</span>
        ) : (
          '✓ none has to be looked at again'
        )}
        {open > wrong && `, ${countWords(open - wrong, 'more has', 'more have')} something to be done`}.
      </p>
      <table className={css['table']} aria-label={DOSSIERS[what].many}>
        <thead>
          <tr>
            <th scope="col">{withCapital(DOSSIERS[what].one)}</th>
            <th scope="col">State</th>
            <th scope="col">What comes next</th>
            <th scope="col">By</th>
          </tr>
        </thead>
        <tbody>
          {all.data.map((d) => (
            <tr key={d.id}>
              <td>
                <a href={dossierLink(what, d.id)}>
                  {DOSSIERS[what].letter}-{d.id}, {d.name}
                </a>
              </td>
              <td>{d.state || 'being looked at'}</td>
              <td>
                {d.isWrong ? <span className={css['mark']}>◆ {d.next}</span> : d.next ? `○ ${d.next}` : '✓'}
              </td>
              <td>{d.nextOn ? dateWords(d.nextOn) : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
