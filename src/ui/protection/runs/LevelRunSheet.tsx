import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { z } from 'zod';
import type { RunAct } from '../../../core/runs/run.ts';
import type * as resultsApi from '../../../pages/api/runs/[id]/results.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { LevelRunView } from '../../../server/protection/runs/level-runs.ts';
import type { RunView } from '../../../server/runs/runs.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { countWords, durationWords, numberWords, sizeWords, whenWords } from '../../desk/words.ts';
import { itemLink, sourceLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Failure, Loading, ProgressBar } from '../../parts/states.tsx';
import { levelRuleLink } from '../links.ts';
import { useLevelRun } from '../use-protection.ts';
import { SidesDialog, type Sided } from './SidesDialog.tsx';
import { levelRunStateWords, OUTCOME_WORDS, runActWords } from './run-words.ts';
import css from '../protection.module.css';

/** Setting levels backwards: what it takes, how far it is, what became of each item, and putting it back. */
export function LevelRunSheet({ id }: { readonly id: string }) {
  const view = useLevelRun(id);
  const mayRun = useMay('protection.run');
  const again = () => void queryClient.invalidateQueries({ queryKey: ['level-run', id] });
  const move = useMutation({
    mutationFn: ({ run, act }: { run: string; act: RunAct }) => request('POST', `/api/runs/${run}`, { act }),
    onSettled: again,
    onError: tellFailure,
  });
  const undo = useMutation({
    mutationFn: () => request('POST', `/api/protection/runs/${id}/undo`, {}),
    onSettled: again,
    onError: tellFailure,
  });
  if (view.isError && !view.data) return <Failure error={view.error} onRetry={() => void view.refetch()} />;
  if (!view.data) return <Loading what="the run" />;
  const { run, mode, acts, copies, keepDays } = view.data;
  const isUndoing = view.data.undo !== null && view.data.undo.run.ended_at === null;
  const canUndo =
    mode === 'set' &&
    run.ended_at !== null &&
    !isUndoing &&
    (copies > 0 || (view.data.counts['noted'] ?? 0) > 0);
  return (
    <>
      <SheetHead
        title={run.title}
        detail={[
          levelRunStateWords(run.state, mode),
          run.ended_at ? whenWords(run.ended_at) : '',
          copies > 0 ? `${countWords(copies, 'document')} kept as before, for ${keepDays} days` : '',
        ]
          .filter(Boolean)
          .join(' · ')}
        actions={
          mayRun && (
            <>
              {acts.map((act) => (
                <Button
                  key={act}
                  kind={act === 'start' || act === 'go on' ? 'primary' : 'plain'}
                  busy={move.isPending}
                  onClick={() => move.mutate({ run: run.id, act })}
                >
                  {runActWords(act, mode)}
                </Button>
              ))}
              {canUndo && (
                <Button busy={undo.isPending} onClick={() => undo.mutate()}>
                  Undo all of it …
                </Button>
              )}
            </>
          )
        }
      />
      {view.data.undo && (
        <UndoPanel
          undo={view.data.undo}
          mayRun={mayRun}
          onAct={(act) => view.data.undo && move.mutate({ run: view.data.undo.run.id, act })}
        />
      )}
      <Counts view={view.data} />
      <Parts view={view.data} mode={mode} />
      <h2 className={css['heading']}>By these rules</h2>
      <p>
        {view.data.rules.map((r, i) => (
          <span key={r.id}>
            {i > 0 && ' · '}
            <a href={levelRuleLink(r.id)}>{r.name}</a> sets {r.level}
          </span>
        ))}
      </p>
      {run.started_at !== null && (
        <Results run={run.id} over={run.ended_at !== null} tried={mode === 'rehearse'} />
      )}
    </>
  );
}

function Counts({ view: { counts, mode, run } }: { readonly view: LevelRunView }) {
  if (run.started_at === null) return null;
  const told = ['stamped', 'noted', 'refused', 'left'].flatMap((key) => {
    const n = counts[key] ?? 0;
    if (n === 0) return [];
    const words = mode === 'rehearse' && key === 'stamped' ? 'can be stamped' : OUTCOME_WORDS[key];
    return [`${key === 'refused' ? '◆ ' : ''}${numberWords(n)} ${words}`];
  });
  return (
    <p className={css['answer']}>{told.join(' · ') || (run.ended_at ? 'Nothing had to change.' : '')}</p>
  );
}

function Parts({
  view: { run, parts, time },
  mode,
}: {
  readonly view: LevelRunView;
  readonly mode: LevelRunView['mode'];
}) {
  if (run.state === 'estimating')
    return (
      <ProgressBar
        label="Estimate"
        share={null}
        words="Weighing the rules for every item; nothing is opened …"
      />
    );
  const items = parts.reduce((n, p) => n + p.looked.items, 0);
  const done = parts.reduce((n, p) => n + p.items, 0);
  const begun = run.started_at !== null;
  if (items === 0) return <p>✓ Every item has the level that the rules say. There is nothing to do.</p>;
  return (
    <>
      {begun && run.ended_at === null && (
        <ProgressBar
          label={mode === 'rehearse' ? 'Trying' : 'Setting'}
          share={Math.min(1, done / items)}
          words={`${numberWords(done)} of ${countWords(items, 'item')}`}
        />
      )}
      <details className={css['parts']} open={run.ended_at === null}>
        <summary>By source, {numberWords(parts.length)}</summary>
        <FigureTable
          columns={['Source', { figure: 'Items' }, { figure: 'Size' }, { figure: begun ? 'Done' : 'Time' }]}
          rows={parts.map((p) => ({
            key: p.position,
            cells: [
              <>
                <a href={sourceLink(p.part)}>{p.words}</a>
                {p.error && <div className={css['mark']}>◆ {p.error}</div>}
              </>,
              numberWords(p.looked.items),
              sizeWords(p.looked.bytes),
              begun ? numberWords(p.items) : p.time.seconds < 1 ? 'no time' : durationWords(p.time.seconds),
            ],
          }))}
        />
      </details>
      {!begun && (
        <p className={css['note']}>
          {countWords(items, 'item')} in {countWords(parts.length, 'source')}, about{' '}
          {durationWords(time.seconds)} ({durationWords(time.low)} to {durationWords(time.high)}), at no cost.{' '}
          {time.measured === 0 && 'A guess: nothing was measured here yet.'}
        </p>
      )}
      {run.error && <p className={css['mark']}>◆ {run.error}</p>}
    </>
  );
}

function UndoPanel({
  undo,
  mayRun,
  onAct,
}: {
  readonly undo: RunView & { readonly acts: readonly RunAct[] };
  readonly mayRun: boolean;
  readonly onAct: (act: RunAct) => void;
}) {
  const { run, parts } = undo;
  const items = parts.reduce((n, p) => n + p.looked.items, 0);
  const done = parts.reduce((n, p) => n + p.items, 0);
  const outcome = z.record(z.string(), z.number()).safeParse(run.outcome).data ?? {};
  if (run.ended_at !== null)
    return (
      <p role="status">
        Undone {whenWords(run.ended_at)}: {numberWords(outcome['undone'] ?? 0)} as they were
        {outcome['left'] ? `, ${numberWords(outcome['left'])} left: somebody changed them since` : ''}.
      </p>
    );
  return (
    <section aria-label="Undo">
      <ProgressBar
        label="Undo"
        share={run.started_at === null ? null : items === 0 ? 1 : done / items}
        words={
          run.started_at === null
            ? `Undo: ${run.state === 'estimating' ? 'being estimated' : `${countWords(items, 'item')}, about ${durationWords(undo.time.seconds)}`}`
            : `${levelRunStateWords(run.state, 'undo')}: ${numberWords(done)} of ${numberWords(items)}`
        }
      />
      <p className={css['note']}>
        Rules in force set these levels again when levels are set the next time. Pause those that should not.
      </p>
      {mayRun &&
        undo.acts.map((act) => (
          <Button key={act} kind={act === 'start' ? 'primary' : 'plain'} onClick={() => onAct(act)}>
            {runActWords(act, 'undo')}
          </Button>
        ))}
    </section>
  );
}

const Result = z.object({
  is: z.string(),
  item: z.number(),
  name: z.string(),
  from: z.string().nullable().default(null),
  to: z.string().nullable().default(null),
  rule: z.string().nullable().default(null),
  level: z.string().nullable().default(null),
  why: z.string(),
});
type Result = z.infer<typeof Result>;

function Results({
  run,
  over,
  tried,
}: {
  readonly run: string;
  readonly over: boolean;
  /** Nothing was changed: each is shown before and after. */
  readonly tried: boolean;
}) {
  const mayLook = useMay('protection.run');
  const [looked, setLooked] = useState<{ readonly all: readonly Sided[]; readonly first: number }>();
  const shown = useRef<readonly Result[]>([]);
  const open = (result: Result) => {
    const all = shown.current.flatMap(({ item, name, level }) =>
      level === null ? [] : [{ item, name, level }],
    );
    const first = all.findIndex((s) => s.item === result.item);
    if (tried && mayLook && first >= 0) setLooked({ all, first });
    else go(itemLink(String(result.item), 'everything'));
  };
  return (
    <>
      {looked && <SidesDialog {...looked} onClose={() => setLooked(undefined)} />}
      <DataTable<{ key: string; result: Result }>
        label="What became of each item"
        name="level-results"
        filters={
          <h2 className={css['heading']}>
            {tried
              ? 'What would become of each item; open one to see it before and after'
              : 'What became of each item'}
          </h2>
        }
        columns={[
          {
            key: 'name',
            title: 'Item',
            fills: true,
            cell: ({ result }) => (
              <span className={css['name']} title={result.name}>
                {result.name}
              </span>
            ),
          },
          {
            key: 'level',
            title: 'Level',
            width: '190px',
            cell: ({ result: { from, to } }) =>
              from === null ? (to ?? 'none') : `${from} → ${to ?? 'none'}`,
          },
          { key: 'rule', title: 'By', optional: true, width: '150px', cell: ({ result }) => result.rule },
          {
            key: 'is',
            title: 'What became of it',
            width: '220px',
            cell: ({ result: { is, why } }) =>
              is === 'stamped' ? (
                OUTCOME_WORDS['stamped']
              ) : (
                <span className={is === 'refused' ? css['mark'] : undefined} title={why}>
                  {is === 'refused' && '◆ '}
                  {why}
                </span>
              ),
          },
        ]}
        queryKey={['level-run', run, 'results', over]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof resultsApi.GET>>(
            'GET',
            `/api/runs/${run}/results${queryString({ after })}`,
          );
          const rows = page.rows.map((r) => ({
            key: `${r.position} ${r.number}`,
            result: Result.parse(r.content),
          }));
          shown.current = [...(after === undefined ? [] : shown.current), ...rows.map((r) => r.result)];
          return { next: page.next, rows };
        }}
        rowKey={(r) => r.key}
        rowName={(r) => r.result.name}
        onOpen={({ result }) => open(result)}
        empty={<p>{over ? 'Nothing had to change.' : 'Nothing is done yet.'}</p>}
      />
    </>
  );
}
