import { useMutation } from '@tanstack/react-query';
import type * as holdingsDetectorsTableApi from '../../../../pages/api/holdings/detectors/table.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useRef, useState } from 'react';
import type { RosterDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { TableSight } from '../../../../server/holdings/detection/roster/table-sight.ts';
import { request } from '../../../desk/request.ts';
import { countWords, numberWords, percentWords, whenWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { PercentSlot } from '../../../parts/PercentSlot.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { Failure, ProgressBar } from '../../../parts/states.tsx';
import type { OpenedOwn } from '../detectors/opened-own.ts';
import { sendFile } from '../../send-file.ts';
import { useDetectorJob } from '../detectors/use-detector-job.ts';
import css from '../../holdings.module.css';

type Use = 'key' | 'beside' | 'neither';
const USES: Readonly<Record<Use, string>> = {
  key: 'names a record',
  beside: 'confirms it',
  neither: 'is left out',
};

/** A table’s columns mapped, the roster built from it, how much of it can be met, and refreshed. */
export function RosterPanel({
  of,
  content,
  set,
  fixed,
  saving,
}: {
  readonly of: OpenedOwn;
  readonly content: RosterDetector;
  readonly set: (content: RosterDetector) => void;
  readonly fixed: boolean;
  readonly saving: string;
}) {
  const choose = useRef<HTMLInputElement>(null);
  const [table, setTable] = useState<{ upload: number; name: string; sight: TableSight }>();
  const [sent, setSent] = useState<number>();
  const id = String(of.key);
  const job = useDetectorJob('build-roster', id);
  const building = job !== undefined && (job.state === 'running' || job.state === 'waiting');
  const look = useMutation({
    mutationFn: async (file: File) => {
      const upload = await sendFile(file, setSent);
      setSent(undefined);
      const sight = await request<AnswerOf<typeof holdingsDetectorsTableApi.POST>>(
        'POST',
        '/api/holdings/detectors/table',
        { upload },
      );
      return { upload, name: file.name, sight };
    },
    onSuccess: (t) => {
      setTable(t);
      const headings = t.sight.columns.map((c) => c.heading);
      const known = [...content.keys, ...content.beside].filter((h) => headings.includes(h));
      if (known.length > 0) return;
      const fit = (use: Use) => t.sight.columns.filter((c) => c.fit === use).map((c) => c.heading);
      set({ ...content, keys: fit('key').slice(0, 3), beside: fit('beside').slice(0, 4) });
    },
    onSettled: () => setSent(undefined),
  });
  const build = useMutation({
    mutationFn: () => request('POST', `/api/holdings/detectors/${id}/build`, { upload: table?.upload }),
    onSuccess: () => setTable(undefined),
  });
  const roleOf = (heading: string): Use =>
    content.keys.includes(heading) ? 'key' : content.beside.includes(heading) ? 'beside' : 'neither';
  const put = (heading: string, use: Use) =>
    set({
      ...content,
      keys: [...content.keys.filter((h) => h !== heading), ...(use === 'key' ? [heading] : [])],
      beside: [...content.beside.filter((h) => h !== heading), ...(use === 'beside' ? [heading] : [])],
    });
  const latest = of.builds.find((b) => b.fits);
  const missing = table
    ? [...content.keys, ...content.beside].filter((h) => !table.sight.columns.some((c) => c.heading === h))
    : [];
  return (
    <>
      <Sentence label="Looks for">
        the values of{' '}
        <b>{content.keys.length > 0 ? content.keys.join(' or ') : 'columns that are to be chosen'}</b>
        {content.beside.length > 0 && (
          <>
            , confirmed by <b>{content.beside.join(', ')}</b>
          </>
        )}
      </Sentence>
      <Sentence label="Counts">
        with{' '}
        <Slot
          label="Confirming values asked for"
          words={
            content.corroboration === 0
              ? 'the value alone'
              : `${countWords(content.corroboration, 'confirming value')} near it`
          }
          fixed={fixed}
          edit={{
            kind: 'number',
            unit: 'confirming values',
            least: 0,
            most: Math.max(0, content.beside.length),
            value: content.corroboration,
            set: (corroboration) => set({ ...content, corroboration }),
          }}
        />
        , at most{' '}
        <Slot
          label="How near"
          words={`${content.within} characters`}
          fixed={fixed}
          edit={{
            kind: 'number',
            unit: 'characters',
            least: 10,
            most: 400,
            value: content.within,
            set: (within) => set({ ...content, within }),
          }}
        />{' '}
        away or in the same row, from{' '}
        <PercentSlot
          label="Counts from"
          share={content.keepFrom}
          fixed={fixed}
          set={(keepFrom) => set({ ...content, keepFrom })}
        />{' '}
        on
      </Sentence>
      {!fixed && (
        <Sentence label="From">
          <input
            ref={choose}
            type="file"
            hidden
            accept=".csv,.tsv,.txt,.xlsx,.ods"
            aria-label="Table of the records"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = '';
              if (file) look.mutate(file);
            }}
          />
          <Button busy={look.isPending} onClick={() => choose.current?.click()}>
            {latest ? 'Refresh from a newer table' : 'Choose the table'}
          </Button>{' '}
          <span className={css['hint']}>
            CSV or a workbook. It is kept encrypted until it is built, then only as keyed hashes.
          </span>
        </Sentence>
      )}
      {sent !== undefined && (
        <ProgressBar label="Sending the table" share={sent} words={`Sent ${percentWords(sent)}`} />
      )}
      {look.isError && <Failure error={look.error} />}
      {table && (
        <section className={css['mapping']}>
          <h2>
            {table.name}: {countWords(table.sight.rows, 'record')}
          </h2>
          {missing.length > 0 && (
            <p className={css['problem']}>
              ◆ It has no column {missing.map((m) => `“${m}”`).join(', ')}. Choose others, or another table.
            </p>
          )}
          <table className={css['plain']}>
            <thead>
              <tr>
                <th>Column</th>
                <th>For example</th>
                <th>Filled</th>
                <th>Distinct</th>
                <th>It</th>
              </tr>
            </thead>
            <tbody>
              {table.sight.columns.map((c) => (
                <tr key={c.heading}>
                  <th scope="row">{c.heading}</th>
                  <td className={css['id']}>{c.examples.join(', ')}</td>
                  <td>{percentWords(c.filled / table.sight.rows)}</td>
                  <td>{numberWords(c.distinct)}</td>
                  <td>
                    <Slot
                      label={`What ${c.heading} does`}
                      words={USES[roleOf(c.heading)]}
                      edit={{
                        kind: 'choice',
                        value: roleOf(c.heading),
                        options: Object.entries(USES).map(([value, words]) => ({ value, words })),
                        set: (v) => put(c.heading, v as Use),
                      }}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className={css['acts']}>
            <Button
              kind="primary"
              busy={build.isPending}
              disabled={saving !== 'saved' || content.keys.length === 0 || missing.length > 0}
              onClick={() => build.mutate()}
            >
              {latest ? 'Build it anew; the old one serves until then' : 'Build it'}
            </Button>
            <Button onClick={() => setTable(undefined)}>Leave it</Button>
          </div>
          {build.isError && <Failure error={build.error} />}
        </section>
      )}
      {building && (
        <ProgressBar
          label="Building the roster"
          share={job.progress?.share ?? null}
          words={job.progress?.words ?? 'Waiting for a worker'}
        />
      )}
      {job?.state === 'failed' && <p className={css['problem']}>◆ {job.error}</p>}
      {latest ? (
        <section className={css['mapping']}>
          <h2>Coverage</h2>
          <p>
            <b>{percentWords(latest.coverage.usable / Math.max(1, latest.coverage.rows), 1)}</b> of{' '}
            {countWords(latest.coverage.rows, 'record')} can be met in a text
            {latest.coverage.repeated > 0 &&
              `; ${countWords(latest.coverage.repeated, 'value stands', 'values stand')} in more than one record`}
            . Built {whenWords(latest.builtAt)} from {latest.source}
            {latest.builtBy && ` by ${latest.builtBy}`}.
          </p>
          <table className={css['plain']}>
            <thead>
              <tr>
                <th>Column</th>
                <th>It</th>
                <th>Filled</th>
                <th>Too short or too long to be met</th>
              </tr>
            </thead>
            <tbody>
              {latest.coverage.columns.map((c) => (
                <tr key={c.heading}>
                  <th scope="row">{c.heading}</th>
                  <td>{USES[c.use]}</td>
                  <td>
                    {numberWords(c.filled)} ({percentWords(c.filled / Math.max(1, latest.coverage.rows))})
                  </td>
                  <td>{numberWords(c.unfit)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ) : (
        !building && (
          <p className={css['hint']}>○ It is not built with these columns yet, and finds nothing.</p>
        )
      )}
      {of.builds.length > 1 && (
        <p className={css['hint']}>
          Before:{' '}
          {of.builds
            .slice(1, 5)
            .map((b) => `${whenWords(b.builtAt)}, ${numberWords(b.coverage.rows)} records`)
            .join('; ')}
        </p>
      )}
    </>
  );
}
