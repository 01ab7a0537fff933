import { FATE_WORDS } from '../../../core/cases/requests/erasure/erasure.ts';
import { changesHoldings } from '../../../core/cases/requests/request.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { useActs, type ViewedRequest } from './use-requests.ts';
import css from '../cases.module.css';

type Item = ViewedRequest['items'][number];

/** Where somebody is: by source, by what they were found there, and what is to do. */
export function WhereHeld({ request, id }: { readonly request: ViewedRequest; readonly id: string }) {
  const { items, facts, row } = request;
  const { query } = useDeskLocation();
  const shown = query.get('source');
  if (facts.search === 'never') return null;
  const held = items.filter((i) => i.theirs !== 'no');
  const groups = new Map<string, Item[]>();
  for (const i of held) {
    const key = i.source ?? 'Websites';
    groups.set(key, [...(groups.get(key) ?? []), i]);
  }
  return (
    <>
      <h2 className={css['heading']}>Where they are</h2>
      {facts.search === 'running' && (
        <p className={css['note']}>They are being looked for: the strip below shows how far.</p>
      )}
      {facts.search === 'done' && held.length === 0 && <p>✓ Nothing is held of them.</p>}
      {groups.size > 0 && (
        <table className={css['table']} aria-label="Where they are">
          <thead>
            <tr>
              <th scope="col">Source</th>
              <th scope="col">Found by</th>
              <th scope="col" className={css['number']}>
                Items
              </th>
              <th scope="col">State</th>
            </tr>
          </thead>
          <tbody>
            {[...groups].map(([name, of]) => (
              <tr key={name} data-chosen={shown === name || undefined}>
                <td>
                  <button
                    type="button"
                    className={css['linkButton']}
                    aria-expanded={shown === name}
                    onClick={() => setQuery({ source: shown === name ? null : name })}
                  >
                    {name}
                  </button>
                  {of[0]?.system && of[0].system !== name && (
                    <span className={css['place']}> · {of[0].system}</span>
                  )}
                </td>
                <td>
                  {[
                    ...new Set(
                      of.flatMap((i) => (i.origin === 'linked rows' ? ['a key of their row'] : i.foundBy)),
                    ),
                  ].join(', ') || '–'}
                </td>
                <td className={css['number']}>{of.length}</td>
                <td>{stateOf(of, row.kind)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {shown && <Items items={groups.get(shown) ?? []} kind={row.kind} />}
      <Bearers request={request} id={id} />
    </>
  );
}

function stateOf(of: readonly Item[], kind: ViewedRequest['row']['kind']) {
  const ask = of.filter((i) => i.theirs === 'ask' && i.state !== 'unreadable').length;
  const look = of.filter((i) => i.theirs === 'yes' && i.state === 'to look over').length;
  const unread = of.filter((i) => i.state === 'unreadable').length;
  if (unread > 0)
    return <span className={css['mark']}>◆ {countWords(unread, 'item')} could not be read</span>;
  if (ask > 0) return `○ ${countWords(ask, 'item')}: whose?`;
  if (changesHoldings(kind)) {
    const kept = of.filter((i) => i.fate === 'kept').length;
    const done = of.filter((i) => i.changeState === 'done').length;
    const failed = of.filter((i) => i.changeState === 'failed').length;
    const hand = of.filter((i) => i.changeState === 'by hand').length;
    if (failed > 0) return <span className={css['mark']}>◆ {failed} failed</span>;
    return [
      done > 0 && `✓ ${done} done`,
      hand > 0 && `○ ${hand} by hand`,
      kept > 0 && `${kept} kept`,
      done + hand + kept < of.length && `${of.length - done - hand - kept} would go`,
    ]
      .filter(Boolean)
      .join(', ');
  }
  return look > 0 ? <span className={css['mark']}>◆ {look} to look over</span> : '✓ gathered';
}

/** The items of one source. */
function Items({
  items,
  kind,
}: {
  readonly items: readonly Item[];
  readonly kind: ViewedRequest['row']['kind'];
}) {
  const chosen = useDeskLocation().query.get('item');
  return (
    <table className={css['table']} aria-label="Items">
      <thead>
        <tr>
          <th scope="col">Item</th>
          <th scope="col">Others in it</th>
          <th scope="col">{changesHoldings(kind) ? 'What becomes of it' : 'State'}</th>
        </tr>
      </thead>
      <tbody>
        {items.map((i) => (
          <tr key={i.id} data-chosen={chosen === i.id || undefined}>
            <td>
              <button type="button" className={css['linkButton']} onClick={() => setQuery({ item: i.id })}>
                {i.title || i.name}
              </button>
              <span className={css['place']}> {i.path}</span>
            </td>
            <td>
              {i.rowsTheirs > 0
                ? `${countWords(i.rowsTheirs, 'row')} of ${i.rowsTheirs + i.rowsLeft}`
                : i.people > 0
                  ? `${countWords(i.people, 'other')}, ${countWords(i.covers, 'cover')}`
                  : 'nobody'}
            </td>
            <td>
              {i.theirs === 'ask'
                ? '○ whose?'
                : i.problem ||
                  (changesHoldings(kind) && i.fate
                    ? `${i.changeState === 'done' ? '✓ ' : ''}${FATE_WORDS[i.fate as keyof typeof FATE_WORDS]}${i.fateWhy ? `: ${i.fateWhy}` : ''}`
                    : i.state === 'right'
                      ? '✓ right'
                      : i.state)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** People of the same name, whom somebody has to tell apart. */
function Bearers({
  request: { bearers, row, request },
  id,
}: {
  readonly request: ViewedRequest;
  readonly id: string;
}) {
  const { act } = useActs(id);
  const mayHandle = useMay('cases.handle');
  if (bearers.length === 0 || row.outcome !== null) return null;
  const say = (bearer: string, theirs: boolean) =>
    void act({ act: 'tell apart', bearer, theirs })
      .then(() => tell(theirs ? 'They are taken in.' : 'They are left out: another of that name.'))
      .catch(tellFailure);
  return (
    <>
      <h2 className={css['heading']}>Of the same name: which are they?</h2>
      <ul className={css['bearers']}>
        {bearers.map((b) => (
          <li key={b.hash}>
            <span>
              ○ {request?.subject.name || 'Somebody'}, <b>{b.words}</b>{' '}
              <span className={css['place']}>{countWords(b.items, 'item')}</span>
            </span>
            {mayHandle && (
              <span>
                <Button onClick={() => say(b.hash, true)}>It is them</Button>{' '}
                <Button onClick={() => say(b.hash, false)}>It is another</Button>
              </span>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
