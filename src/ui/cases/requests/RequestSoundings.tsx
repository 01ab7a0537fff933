import { needsGathering } from '../../../core/cases/requests/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { useMay } from '../../desk/account-context.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CheckList } from '../../parts/CheckList.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { requestItemLink } from '../links.ts';
import { useActs, useRequest, type ViewedRequest } from './use-requests.ts';
import css from '../cases.module.css';

/** Whether it can be answered in time, what may not go out, and what would become of all that is held. */
export function RequestSoundings({ id }: { readonly id: string }) {
  const r = useRequest(id).data;
  if (!r) return null;
  const theirs = r.items.filter((i) => i.theirs === 'yes');
  const hands = r.facts.items.toLookOver + r.facts.items.ask + r.facts.items.unread + r.facts.tasks.open;
  const sources = new Set(theirs.map((i) => i.source ?? 'Websites'));
  const open = r.row.outcome === null;
  return (
    <>
      <SoundingsSection title={open ? 'Can it be answered in time?' : 'How it went'}>
        <FigureRow>
          <Figure
            value={String(Math.abs(r.clock.daysLeft))}
            words={`${Math.abs(r.clock.daysLeft) === 1 ? 'day' : 'days'} ${r.clock.isLate ? 'late' : 'left'}`}
            mark={r.clock.isLate}
          />
          <Figure value={numberWords(theirs.length)} words={`items, ${countWords(sources.size, 'source')}`} />
          {open && <Figure value={numberWords(hands)} words="need a hand" mark={hands > 0} />}
        </FigureRow>
        {r.like && (
          <p className={css['note']}>
            The last {r.like.n} like it took {r.like.median} days, {r.like.least} to {r.like.most}.
          </p>
        )}
        {r.clock.pausedDays > 0 && (
          <p className={css['note']}>The clock stood for {countWords(r.clock.pausedDays, 'day')}.</p>
        )}
      </SoundingsSection>
      {r.needs.length > 0 && (
        <SoundingsSection title="Before it is closed">
          <CheckList label="Before it is closed">
            {r.needs.map((n) => (
              <li key={n.step + n.words}>
                {n.wrong ? <span className={css['mark']}>◆ {n.words}</span> : `○ ${n.words}`}
              </li>
            ))}
          </CheckList>
        </SoundingsSection>
      )}
      {needsGathering(r.row.kind) && theirs.length > 0 && <GoesOut request={r} id={id} />}
      {theirs.length > 0 && <IfDeleted request={r} />}
    </>
  );
}

function GoesOut({ request: r, id }: { readonly request: ViewedRequest; readonly id: string }) {
  const { act } = useActs(id);
  const mayHandle = useMay('cases.handle') && r.row.outcome === null;
  const theirs = r.items.filter((i) => i.theirs === 'yes');
  const covers = theirs.reduce((n, i) => n + i.covers, 0);
  const rows = theirs.reduce((n, i) => n + i.rowsLeft, 0);
  const leftOut = theirs.filter((i) => i.state === 'left out');
  const made = r.package;
  return (
    <>
      <SoundingsSection title="What may not go out">
        <CheckList label="What may not go out">
          <li>✓ {countWords(covers, 'place')} of others covered</li>
          <li>✓ {countWords(rows, 'row')} of others never gathered</li>
          {leftOut.map((i) => (
            <li key={i.id}>
              ✓ left out, {i.ground}: <a href={requestItemLink(r.row.id, i.id)}>{i.title || i.name}</a>
            </li>
          ))}
          {made &&
            (made.leftovers.length === 0 ? (
              <li>✓ searched in every file of the package: none left</li>
            ) : (
              made.leftovers.slice(0, 8).map((l, n) => (
                <li key={n}>
                  <span className={css['mark']}>◆ {l.masked}</span> in {l.file}: {l.why}.{' '}
                  {l.item && <a href={requestItemLink(r.row.id, l.item)}>look</a>}
                </li>
              ))
            ))}
        </CheckList>
      </SoundingsSection>
      {made && (
        <SoundingsSection title="The package">
          <p>
            {countWords(made.items, 'item')} in {countWords(made.files, 'file')},{' '}
            {Math.ceil(made.size / 1000)} kB, made {whenWords(made.madeAt)}.
            {r.facts.package?.stale && ' Something changed since: make it anew.'}
          </p>
          <p className={css['note']}>
            {made.fetchedAt
              ? `✓ fetched ${whenWords(made.fetchedAt)}`
              : made.untilOn
                ? `○ not fetched yet; it can be until ${made.untilOn}`
                : '○ not sent yet'}
          </p>
          {made.phrase && (
            <p>
              Passphrase, told another way: <CopyText text={made.phrase} label="Passphrase" />
            </p>
          )}
          {mayHandle && (r.facts.package?.stale || made.leftovers.length > 0) && (
            <Button
              onClick={() =>
                void act({ act: 'package' })
                  .then(() => tell('It is being made anew.'))
                  .catch(tellFailure)
              }
            >
              Make it anew
            </Button>
          )}
        </SoundingsSection>
      )}
    </>
  );
}

/** What would become of all that is held, were it asked to be deleted. */
function IfDeleted({ request: r }: { readonly request: ViewedRequest }) {
  const theirs = r.items.filter((i) => i.theirs === 'yes');
  const kept = theirs.filter((i) => i.fate === 'kept');
  if (r.row.kind !== 'delete') return null;
  const reasons = new Map<string, number>();
  for (const k of kept)
    reasons.set(`${k.fateWhy} (${k.fateArticle})`, (reasons.get(`${k.fateWhy} (${k.fateArticle})`) ?? 0) + 1);
  const count = (fate: string) => theirs.filter((i) => i.fate === fate).length;
  return (
    <SoundingsSection title="What goes, and what stays">
      <CheckList label="What goes, and what stays">
        <li>{countWords(count('removed'), 'item')} deleted whole</li>
        <li>{count('taken out')} without them, as others share it</li>
        <li>{count('by hand')} by their owners</li>
        {[...reasons].map(([why, n]) => (
          <li key={why}>
            {n} kept: {why}
          </li>
        ))}
      </CheckList>
      <p className={css['note']}>
        What goes is looked for again afterwards, and watched for: should it come back, you are told.
      </p>
    </SoundingsSection>
  );
}
