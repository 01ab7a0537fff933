import { useMutation } from '@tanstack/react-query';
import { useRef } from 'react';
import { surveySentence, type SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import type { RunAct } from '../../../core/runs/run.ts';
import type { SurveyedSource, SurveyView } from '../../../server/holdings/surveys/survey-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, durationWords, numberWords, whenWords, sizeWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { ScheduleSlots } from '../../parts/ScheduleSlots.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading, ProgressBar } from '../../parts/states.tsx';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { sourceLink } from '../links.ts';
import { runStateWords } from '../../runs/run-words.ts';
import { SurveyResults } from './SurveyResults.tsx';
import { useSurvey, useSurveyNames } from './use-surveys.ts';
import css from '../estate.module.css';

const ACT_WORDS: Readonly<Record<RunAct, string>> = {
  start: 'Start reading',
  pause: 'Pause',
  'go on': 'Go on',
  cancel: 'Cancel',
};

/** A survey: what it reads, what that takes before it runs, how far it is, and what came of it. */
export function SurveySheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<SurveyContent>('survey', id);
  const names = useSurveyNames();
  const view = useSurvey(id);
  const may = useMay('holdings.survey');
  const readAgain = () => {
    void queryClient.invalidateQueries({ queryKey: ['survey-view', id] });
    void queryClient.invalidateQueries({ queryKey: ['surveys'] });
  };
  const saving = useRef(Promise.resolve());
  const estimate = useMutation({
    // What was changed a moment ago has to be saved before it is estimated.
    mutationFn: () => saving.current.then(() => request('POST', `/api/holdings/surveys/${id}/estimate`, {})),
    onSuccess: readAgain,
    onError: tellFailure,
  });
  const move = useMutation({
    mutationFn: ({ run, act }: { run: string; act: RunAct }) => request('POST', `/api/runs/${run}`, { act }),
    onSuccess: (_, { act }) => {
      if (act === 'start') tell('Reading begins. You can leave; it goes on.');
      readAgain();
    },
    onError: tellFailure,
  });
  const failed = query.error ?? view.error;
  if (failed && !(query.data && view.data))
    return <Failure error={failed} onRetry={() => void query.refetch()} />;
  if (!query.data || !view.data || !names.data) return <Loading what="the survey" />;
  const { content } = query.data;
  const { run, sources, nextRun } = view.data;
  const set = (next: SurveyContent) => {
    saving.current = save(next, 'Saved. Estimate it anew to see what it takes now.');
  };
  const over = !run || ['estimated', 'done', 'failed', 'cancelled'].includes(run.state);
  return (
    <>
      <SheetHead
        title={<NameSlot name={content.name} set={(name) => set({ ...content, name })} fixed={!may} />}
        detail={
          run
            ? `${runStateWords(run.state, 'reading now')}${run.ended_at ? ` ${whenWords(run.ended_at)}` : ''}${nextRun ? ` · runs again ${whenWords(nextRun)}` : ''}`
            : 'Not estimated yet'
        }
        actions={
          may && (
            <>
              {over && (
                <Button
                  kind={run?.state === 'estimated' ? 'plain' : 'primary'}
                  busy={estimate.isPending}
                  onClick={() => estimate.mutate()}
                >
                  {run ? 'Estimate it anew' : 'Estimate what it takes'}
                </Button>
              )}
              {run?.acts.map((act) => (
                <Button
                  key={act}
                  kind={act === 'start' || act === 'go on' ? 'primary' : 'plain'}
                  busy={move.isPending}
                  onClick={() => move.mutate({ run: run.id, act })}
                >
                  {ACT_WORDS[act]}
                </Button>
              ))}
            </>
          )
        }
      />
      <RuleSentence sentence={surveySentence(names.data)} content={content} set={set} fixed={!may} />
      <Sentence label="When">
        <ScheduleSlots
          label="When it runs"
          schedule={content.schedule}
          idle="when somebody starts it"
          zone={Intl.DateTimeFormat().resolvedOptions().timeZone}
          fixed={!may}
          onSet={(schedule) => set({ ...content, schedule })}
        />
      </Sentence>
      {run && <RunTable run={run} sources={sources} />}
      {run && run.state !== 'estimating' && run.state !== 'estimated' && (
        <SurveyResults key={run.id} run={run.id} over={run.ended_at !== null} />
      )}
    </>
  );
}

function RunTable({
  run,
  sources,
}: {
  readonly run: NonNullable<SurveyView['run']>;
  readonly sources: readonly SurveyedSource[];
}) {
  if (run.state === 'estimating')
    return (
      <ProgressBar
        label="Estimate"
        share={null}
        words="Looking at what there is to read; nothing is opened …"
      />
    );
  const sum = (of: (s: SurveyedSource) => number) => sources.reduce((n, s) => n + of(s), 0);
  const costs = sources.filter((s) => s.cost !== null);
  const begun = run.started_at !== null;
  const items = sum((s) => s.items);
  const done = sum((s) => s.done);
  return (
    <>
      <h2 className={css['heading']}>
        {run.ended_at ? 'What was read' : begun ? 'How far it is' : 'What it takes'}
      </h2>
      {begun && run.ended_at === null && (
        <ProgressBar
          label="Reading"
          share={items === 0 ? null : Math.min(1, done / items)}
          words={`${numberWords(done)} of about ${countWords(items, 'item')}`}
        />
      )}
      <table className={css['estimate']}>
        <thead>
          <tr>
            <th scope="col">Source</th>
            <th scope="col" className={css['number']}>
              To read
            </th>
            <th scope="col" className={css['number']}>
              Size
            </th>
            <th scope="col" className={css['number']}>
              Known, unchanged
            </th>
            {begun && (
              <th scope="col" className={css['number']}>
                Read
              </th>
            )}
            {begun && (
              <th scope="col" className={css['number']}>
                Unreadable
              </th>
            )}
            {!begun && <th scope="col">Time</th>}
            {costs.length > 0 && (
              <th scope="col" className={css['number']}>
                Cost
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {sources.map((s) => (
            <tr key={s.id}>
              <td>
                <a href={sourceLink(s.id)}>{s.name}</a>
                {s.error && <div className={css['mark']}>◆ {s.error}</div>}
              </td>
              <td className={css['number']}>
                {s.seen < 1 && 'about '}
                {numberWords(s.items)}
              </td>
              <td className={css['number']}>{sizeWords(s.bytes)}</td>
              <td className={css['number']}>{numberWords(s.leftOut)}</td>
              {begun && <td className={css['number']}>{numberWords(s.done)}</td>}
              {begun && (
                <td className={css['number']}>
                  {s.unreadable > 0 ? (
                    <span className={css['mark']}>◆ {numberWords(s.unreadable)}</span>
                  ) : (
                    '0'
                  )}
                </td>
              )}
              {!begun && <td>{timeWords(s.time)}</td>}
              {costs.length > 0 && (
                <td className={css['number']}>{s.cost === null ? '' : s.cost.toFixed(2)}</td>
              )}
            </tr>
          ))}
        </tbody>
        {sources.length > 1 && (
          <tfoot>
            <tr>
              <td>In all</td>
              <td className={css['number']}>{numberWords(items)}</td>
              <td className={css['number']}>{sizeWords(sum((s) => s.bytes))}</td>
              <td className={css['number']}>{numberWords(sum((s) => s.leftOut))}</td>
              {begun && <td className={css['number']}>{numberWords(done)}</td>}
              {begun && <td className={css['number']}>{numberWords(sum((s) => s.unreadable))}</td>}
              {!begun && <td>{timeWords(run.time)}</td>}
              {costs.length > 0 && <td className={css['number']}>{sum((s) => s.cost ?? 0).toFixed(2)}</td>}
            </tr>
          </tfoot>
        )}
      </table>
      {!begun && (
        <p className={css['note']}>
          {run.time.measured === 0
            ? 'A guess: nothing was measured here yet. It is between these two nearly always.'
            : `From how long ${countWords(run.time.measured, 'reading')} took here; 19 of 20 times between these two.`}
          {sources.some((s) => s.seen < 1) &&
            ' Of large sources a part was counted, and the rest reckoned from it.'}
        </p>
      )}
      {run.error && <p className={css['mark']}>◆ {run.error}</p>}
    </>
  );
}

function timeWords({
  seconds,
  low,
  high,
}: {
  readonly seconds: number;
  readonly low: number;
  readonly high: number;
}): string {
  if (seconds < 1) return 'no time';
  return `${durationWords(seconds)} (${durationWords(low)} to ${durationWords(high)})`;
}
