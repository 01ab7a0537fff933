import type * as actApi from '../../../pages/api/access/changes/[id]/[act].ts';
import type * as stepsApi from '../../../pages/api/access/changes/[id]/steps.ts';
import { dayText } from '../../../core/text/day.ts';
import type { ListedStep } from '../../../server/access/change/view-change.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { CHANGES, changeLink, personLink, placeLink } from '../links.ts';
import { useChange } from '../use-access.ts';
import type { ChangeView } from '../../../server/access/change/view-change.ts';
import { CHANGE_WORDS, STEP_WORDS } from './change-state.ts';
import css from '../access.module.css';

/** One change: what it would do, then what became of each step, and how it is taken back. */
export function ChangeSheet({ id }: { readonly id: string }) {
  const change = useChange(id);
  if (change.isError && !change.data)
    return <Failure error={change.error} onRetry={() => void change.refetch()} />;
  if (!change.data) return <Loading what="the change" />;
  const c = change.data;
  return (
    <>
      <SheetHead title={c.name} detail={detailOf(c)} actions={<ChangeActs change={c} />} />
      {c.state === 'draft' ? <Rehearsal change={c} /> : <Outcome change={c} />}
    </>
  );
}

function detailOf(c: ChangeView) {
  return (
    <>
      {CHANGE_WORDS[c.state]} · {countWords(c.steps, 'step')} · made by {c.madeBy ?? 'nobody'},{' '}
      {whenWords(c.madeAt)}
      {c.endedAt && `, ended ${whenWords(c.endedAt)}`}
      {c.undoes !== null && (
        <>
          {' '}
          · takes back <a href={changeLink(c.undoes)}>change {c.undoes}</a>
        </>
      )}
      {c.undoneBy !== null && (
        <>
          {' '}
          · taken back by <a href={changeLink(c.undoneBy)}>change {c.undoneBy}</a>
        </>
      )}
      {c.state !== 'draft' && c.reason && ` · ${c.reason}`}
    </>
  );
}

function ChangeActs({ change: c }: { readonly change: ChangeView }) {
  if (!useMay('access.change')) return null;
  const act = async (what: 'begin' | 'again' | 'undo' | 'drop', said: string) => {
    try {
      const { id } = await request<AnswerOf<typeof actApi.POST>>(
        'POST',
        `/api/access/changes/${c.id}/${what}`,
        {},
      );
      tell(said);
      if (what === 'undo') go(changeLink(id));
      if (what === 'drop') go(CHANGES);
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      {c.state === 'draft' && c.rehearsal && (
        <Button kind="primary" onClick={() => void act('begin', 'It is being done.')}>
          Do it
        </Button>
      )}
      {c.state === 'draft' && <Button onClick={() => void act('drop', 'It is dropped.')}>Drop it</Button>}
      {c.state === 'partly' && (c.counts.failed ?? 0) > 0 && (
        <Button onClick={() => void act('again', 'What failed is tried again.')}>
          Try again what failed
        </Button>
      )}
      {(c.state === 'done' || c.state === 'partly') && c.undoneBy === null && (c.counts.done ?? 0) > 0 && (
        <Button onClick={() => void act('undo', 'This takes it back: look at what follows, then do it.')}>
          Take it back
        </Button>
      )}
    </>
  );
}

function Rehearsal({ change: c }: { readonly change: ChangeView }) {
  const r = c.rehearsal;
  if (!r)
    return (
      <div role="alert">
        <p className={css['mark']}>◆ {c.refused?.words ?? 'It cannot be rehearsed.'}</p>
        {c.refused?.fields.map((f) => (
          <p key={f.message}>{f.message}</p>
        ))}
      </div>
    );
  const exposed = Object.values(c.exposure);
  const items = exposed.reduce((n, e) => n + e.items, 0);
  const sensitive = exposed.reduce((n, e) => n + e.sensitive, 0);
  return (
    <>
      <section className={css['rehearsed']} aria-label="What it would do">
        <h2>Rehearsed: nothing is done yet</h2>
        <FigureRow>
          {r.gain > 0 && (
            <Figure value={`+${numberWords(r.gain)}`} words={r.gain === 1 ? 'person gains' : 'people gain'} />
          )}
          {r.lose > 0 && (
            <Figure value={`−${numberWords(r.lose)}`} words={r.lose === 1 ? 'person loses' : 'people lose'} />
          )}
          {r.usesKnown && r.lose > 0 && (
            <Figure
              value={numberWords(r.loseUsed)}
              words="of them used it in 90 days"
              mark={r.loseUsed > 0}
            />
          )}
          <Figure
            value={numberWords(r.keep)}
            words={r.keep === 1 ? 'keeps as much another way' : 'keep as much another way'}
          />
          <Figure
            value={numberWords(items)}
            words={r.gain > r.lose ? 'items more exposed' : 'items less exposed'}
          />
          <Figure value={numberWords(sensitive)} words="people with sensitive data in them" />
        </FigureRow>
      </section>
      {r.conflicts.map((conflict) => (
        <p key={conflict.rule} className={css['mark']}>
          ◆ {conflict.people.join(', ')}
          {conflict.count > conflict.people.length &&
            ` and ${conflict.count - conflict.people.length} more`}{' '}
          would have both sides of “{conflict.rule}”.
        </p>
      ))}
      <WhySlot change={c} />
      <h2 className={css['heading']}>Steps</h2>
      <ol className={css['plain']}>
        {r.steps.slice(0, 30).map((s, i) => (
          <li key={i}>
            {i + 1}. {s}
          </li>
        ))}
        {r.steps.length > 30 && <li>and {numberWords(r.steps.length - 30)} more</li>}
      </ol>
      {r.places.length > 0 && (
        <>
          <h2 className={css['heading']}>Places it touches, with all that inherits from them</h2>
          <FigureTable
            columns={[
              'Place',
              { figure: 'Reach it now' },
              { figure: 'Then' },
              { figure: 'Gain' },
              { figure: 'Lose' },
              { figure: 'Not even see it' },
            ]}
            rows={r.places.slice(0, 50).map((p) => ({
              key: p.key,
              cells: [
                <>
                  <a href={placeLink(p.key)}>{p.name}</a> <small className={css['dim']}>{p.path}</small>
                </>,
                numberWords(p.before),
                numberWords(p.after),
                p.gain > 0 ? `+${numberWords(p.gain)}` : '',
                p.lose > 0 ? `−${numberWords(p.lose)}` : '',
                p.out > 0 ? numberWords(p.out) : '',
              ],
            }))}
          />
          {r.placeCount > 50 && (
            <p className={css['note']}>and {numberWords(r.placeCount - 50)} more places</p>
          )}
        </>
      )}
      {r.people.length > 0 && (
        <>
          <h2 className={css['heading']}>People it touches</h2>
          <FigureTable
            columns={[
              'Person',
              'Work',
              { figure: 'Gains at' },
              { figure: 'Loses at' },
              'Last used what they lose',
            ]}
            rows={r.people.slice(0, 50).map((p) => ({
              key: p.key,
              cells: [
                <a href={personLink(p.key)}>{p.name}</a>,
                p.work,
                p.gains > 0 ? countWords(p.gains, 'place') : '',
                p.loses > 0 ? countWords(p.loses, 'place') : '',
                p.loses === 0 ? '' : p.lastUse === null ? 'never' : dayText(p.lastUse),
              ],
            }))}
          />
          {r.peopleCount > 50 && (
            <p className={css['note']}>and {numberWords(r.peopleCount - 50)} more people</p>
          )}
        </>
      )}
      {r.gain + r.lose === 0 && <p>Nobody gains or loses anything: all keep as much another way.</p>}
    </>
  );
}

/** Why it may be done; asked for where it breaks a rule of two pairs of hands. */
function WhySlot({ change: c }: { readonly change: ChangeView }) {
  const mayChange = useMay('access.change');
  const say = async (reason: string) => {
    try {
      await request('PUT', `/api/access/changes/${c.id}/reason`, { reason });
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <p>
      Why it is done:{' '}
      <Slot
        label="Why it is done"
        words={c.reason === '' ? 'nobody said yet' : c.reason}
        fixed={!mayChange}
        edit={{ kind: 'text', most: 1000, value: c.reason, set: (text) => void say(text) }}
      />
      .
    </p>
  );
}

const COLUMNS: readonly Column<ListedStep>[] = [
  { key: 'n', title: 'Step', width: '52px', align: 'right', cell: (s) => s.n + 1 },
  {
    key: 'words',
    title: 'What',
    fills: true,
    cell: (s) => (
      <span className={css['cut']} title={s.words}>
        {s.words}
      </span>
    ),
  },
  { key: 'source', title: 'Where', width: '130px', cell: (s) => s.source },
  {
    key: 'state',
    title: 'What became of it',
    width: '250px',
    cell: (s) => (
      <span
        className={`${css['cut']} ${s.state === 'failed' || s.state === 'ordered' ? css['mark'] : ''}`}
        title={s.told}
      >
        {STEP_WORDS[s.state]}
        {s.told && `: ${s.told}`}
      </span>
    ),
  },
  { key: 'at', title: 'When', width: '120px', optional: true, cell: (s) => (s.at ? whenWords(s.at) : '') },
];

function Outcome({ change: c }: { readonly change: ChangeView }) {
  return (
    <>
      <FigureRow>
        {(['waiting', 'begun', 'done', 'already', 'failed', 'ordered'] as const).map((state) => {
          const n = c.counts[state] ?? 0;
          return n === 0 ? null : (
            <Figure
              key={state}
              value={numberWords(n)}
              words={STEP_WORDS[state].replace(/^[✓◆○] /, '')}
              mark={state === 'failed' || state === 'ordered'}
            />
          );
        })}
      </FigureRow>
      {(c.counts.ordered ?? 0) > 0 && <WorkOrder id={c.id} />}
      <DataTable
        label="Steps"
        name="access-steps"
        columns={COLUMNS}
        queryKey={['access-steps', c.id, c.state, c.counts]}
        load={(after) =>
          request<AnswerOf<typeof stepsApi.GET>>(
            'GET',
            `/api/access/changes/${c.id}/steps${queryString({ after })}`,
          )
        }
        rowKey={(s) => String(s.n)}
        rowName={(s) => s.words}
        empty={<p>It has no steps.</p>}
      />
    </>
  );
}

/** What somebody has to do where nothing is written from here. */
function WorkOrder({ id }: { readonly id: number }) {
  return (
    <p>
      ◆ Some of it has to be done by hand, as its source takes no changes from here. It is looked for whenever
      that source is read.{' '}
      <a href={`/api/access/changes/${id}/order`} download>
        The work order
      </a>
    </p>
  );
}
