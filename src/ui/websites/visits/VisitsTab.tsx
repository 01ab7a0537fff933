import { useState } from 'react';
import { regionName } from '../../../core/websites/notice/region.ts';
import { sweepRegions } from '../../../core/websites/notice/regime.ts';
import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import { timeLine, visitDifference, type TimeRow } from '../../../core/websites/visits/time-line.ts';
import {
  ANSWER_WORDS,
  ANSWERS,
  ranTooEarly,
  VisitWish,
  type VisitCourse,
  type VisitEvent,
} from '../../../core/websites/visits/visit.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import type { ListedVisit } from '../../../server/websites/visits/visit-store.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import { useRegimes } from '../regimes/use-regimes.ts';
import shared from '../websites.module.css';
import { useOpenVisit, useVisits } from './use-visits.ts';
import css from './visits.module.css';

/** One page, or a few, walked by three visitors with different answers, side by side. */
export function VisitsTab({ site }: { readonly site: SiteDetail }) {
  const visits = useVisits(site.host);
  const open = useOpenVisit(site.host);
  if (visits.isError) return <Failure error={visits.error} onRetry={() => void visits.refetch()} />;
  if (!visits.data) return <Loading what="the visits" />;
  const course = open.data?.course;
  return (
    <div className={css['visits']}>
      <NextVisit site={site} last={visits.data[0]} />
      {visits.data.length === 0 ? (
        <Empty title="Never visited">
          A visit walks a page in a real browser as somebody in a region, once refusing, once allowing all and
          once with a choice of their own, and shows when each tag ran, and whether it might.
        </Empty>
      ) : (
        <>
          <Which visits={visits.data} opened={open.data?.visit} />
          {open.isError && <Failure error={open.error} onRetry={() => void open.refetch()} />}
          {open.data && !course && (
            <p className={shared['dim']}>
              {open.data.visit.state === 'failed'
                ? '◆ This visit failed, and shows nothing.'
                : '○ This visit is not over yet.'}
            </p>
          )}
          {course && <Course course={course} before={open.data?.before ?? null} purposes={site.purposes} />}
        </>
      )}
    </div>
  );
}

/** The next visit as a sentence, begun as the last one was. */
function NextVisit({ site, last }: { readonly site: SiteDetail; readonly last: ListedVisit | undefined }) {
  const may = useMay('websites.sweep');
  const regimes = useRegimes().data;
  const start = new URL(site.startUrl);
  const [wish, setWish] = useState<VisitWish>(
    last?.wish ?? {
      pages: [start.pathname + start.search],
      region: site.region === 'ZZ' ? 'DK' : site.region,
      chosen:
        site.chosen.length > 0
          ? [...site.chosen]
          : site.purposes
              .filter((p) => !p.essential)
              .slice(0, 1)
              .map((p) => p.code),
      gpc: false,
    },
  );
  const [busy, setBusy] = useState(false);
  const asked = site.purposes.filter((p) => !p.essential);
  const go = async () => {
    setBusy(true);
    try {
      await request('POST', `/api${siteLink(site.host)}/visits`, wish);
      tell('Three visitors are on their way. You can leave this page.');
      setQuery({ visit: null, event: null });
    } catch (e) {
      tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  const problem = (text: string) =>
    VisitWish.shape.pages.safeParse(pagesOf(text)).error?.issues[0]?.message ?? '';
  return (
    <p className={shared['sentence']}>
      Visit{' '}
      <Slot
        label="Pages of the visit"
        words={wish.pages.join(', then ')}
        fixed={!may}
        edit={{
          kind: 'text',
          most: 2000,
          value: wish.pages.join(' '),
          hint: 'From / on, up to five, with a space between them',
          check: problem,
          set: (text) => problem(text) === '' && setWish({ ...wish, pages: pagesOf(text) }),
        }}
      />{' '}
      as somebody in{' '}
      <Slot
        label="Region of the visit"
        words={regionName(wish.region)}
        fixed={!may}
        edit={{
          kind: 'choice',
          value: wish.region,
          options: sweepRegions(regimes).map((r) => ({ value: r, words: regionName(r) })),
          set: (region) => setWish({ ...wish, region }),
        }}
      />
      , refusing, allowing all, and allowing{' '}
      <Slot
        label="Purposes of the own choice"
        words={wish.chosen.map((c) => purposeName(site.purposes, c)).join(', ') || 'nothing'}
        fixed={!may}
        edit={{
          kind: 'many',
          value: wish.chosen,
          options: asked.map((p) => ({ value: p.code, words: p.name })),
          set: (chosen) => setWish({ ...wish, chosen: [...chosen] }),
        }}
      />
      ,{' '}
      <Slot
        label="Global Privacy Control"
        words={wish.gpc ? 'with Global Privacy Control sent' : 'without a signal'}
        fixed={!may}
        edit={{
          kind: 'choice',
          value: wish.gpc ? 'yes' : 'no',
          options: [
            { value: 'no', words: 'without a signal' },
            { value: 'yes', words: 'with Global Privacy Control sent' },
          ],
          set: (v) => setWish({ ...wish, gpc: v === 'yes' }),
        }}
      />
      .{' '}
      {may && (
        <Button kind="primary" busy={busy} onClick={() => void go()}>
          {last ? 'Visit again' : 'Visit'}
        </Button>
      )}
    </p>
  );
}

function pagesOf(text: string): string[] {
  return text.trim().split(/\s+/).filter(Boolean);
}

function Which({
  visits,
  opened,
}: {
  readonly visits: readonly ListedVisit[];
  readonly opened: ListedVisit | undefined;
}) {
  const running = visits.find((v) => v.state === 'running' || v.state === 'waiting');
  return (
    <p className={shared['dim']}>
      {running && '○ A visit is under way. '}
      {opened && (
        <>
          Shown:{' '}
          <Slot
            label="Visit shown"
            words={whenWords(opened.created_at)}
            edit={{
              kind: 'choice',
              value: String(opened.id),
              options: visits.map((v) => ({
                value: String(v.id),
                words: whenWords(v.created_at),
                detail: `${regionName(v.wish.region)}, ${v.wish.pages[0] ?? ''}: ${outcome(v)}`,
              })),
              set: (visit) => setQuery({ visit, event: null }),
            }}
          />{' '}
          by {opened.started_by ?? 'someone'}, {outcome(opened)}
        </>
      )}
    </p>
  );
}

function outcome(v: ListedVisit): string {
  if (v.state !== 'complete') return v.state;
  return v.too_early > 0
    ? `◆ ${v.too_early} ran when ${v.too_early === 1 ? 'it' : 'they'} should not`
    : '✓ nothing ran too early';
}

/** Between the phases of a course: what stands above it happened before. */
function Course({
  course,
  before,
  purposes,
}: {
  readonly course: VisitCourse;
  readonly before: VisitCourse | null;
  readonly purposes: readonly Purpose[];
}) {
  const chosen = useDeskLocation().query.get('event');
  const rows = timeLine(course.lanes);
  const asked = purposes.filter((p) => !p.essential);
  const difference = before && visitDifference(before.lanes, course.lanes);
  return (
    <>
      <p className={shared['dim']}>
        Notice {course.notice || 'none'} · {regionName(course.wish.region)}, {course.regime}: {course.law}
      </p>
      {course.lanes
        .filter((l) => l.whyNot)
        .map((l) => (
          <p key={l.answer} className={shared['leak']}>
            ◆ {ANSWER_WORDS[l.answer]}: {l.whyNot}
          </p>
        ))}
      {difference && difference.worse.length + difference.better.length > 0 && (
        <p className={difference.worse.length > 0 ? shared['leak'] : shared['good']}>
          {difference.worse.length > 0 && `◆ New since the visit before: ${difference.worse.join('; ')}. `}
          {difference.better.length > 0 && `✓ No more: ${difference.better.join('; ')}.`}
        </p>
      )}
      <table className={`${shared['plain']} ${css['line']}`} aria-label="Time line of the visit">
        <thead>
          <tr>
            <th>At</th>
            <th>What happened</th>
            {ANSWERS.map((a) => (
              <th key={a}>{ANSWER_WORDS[a]}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <Row
              key={`${row.phase} ${row.key} ${i}`}
              {...{ row, asked }}
              at={i}
              first={rows[i - 1]?.phase !== row.phase && i > 0}
              chosen={chosen}
            />
          ))}
        </tbody>
      </table>
      <p className={shared['legend']}>
        <span>
          {asked.map((p) => `${p.name[0]} ${p.name}`).join(', ')}: – not answered, ✓ allowed, ✕ refused, ● on
          unless refused
        </span>
        <span>Above the first line nobody had answered.</span>
      </p>
    </>
  );
}

function Row({
  row,
  asked,
  at,
  first,
  chosen,
}: {
  readonly row: TimeRow;
  readonly asked: readonly Purpose[];
  readonly at: number;
  readonly first: boolean;
  readonly chosen: string | null;
}) {
  const opened = chosen?.split('.')[0] === String(at);
  const early = ANSWERS.find((a) => row.cells[a] && ranTooEarly(row.cells[a]));
  const one = early ?? ANSWERS.find((a) => row.cells[a]) ?? 'refuse';
  return (
    <tr
      data-phase={first || undefined}
      data-early={row.tooEarly || undefined}
      aria-current={opened || undefined}
    >
      <td className={css['at']}>{(row.at / 1000).toFixed(2)} s</td>
      <td>
        <button
          type="button"
          className={css['what']}
          onClick={() => setQuery({ event: opened ? null : `${at}.${one}` }, 'push')}
        >
          {row.words}
        </button>
      </td>
      {ANSWERS.map((a) => {
        const event = row.cells[a];
        return (
          <td key={a} data-early={(event && ranTooEarly(event)) || undefined}>
            {event && <Cell event={event} asked={asked} />}
          </td>
        );
      })}
    </tr>
  );
}

export const EVENT_MARKS: Readonly<Partial<Record<VisitEvent['what'], string>>> = {
  held: '▢',
  ran: '●',
  stored: '●',
  shown: '▽',
  recorded: '✓',
  deleted: '✓',
  told: '→',
};

function Cell({ event, asked }: { readonly event: VisitEvent; readonly asked: readonly Purpose[] }) {
  if (event.purposes) return <span className={css['state']}>{stateWords(event.purposes, asked)}</span>;
  const mark = ranTooEarly(event)
    ? '◆'
    : event.cell === 'reduced'
      ? '◐'
      : event.verdict === 'unsorted'
        ? '?'
        : event.cell === 'kept'
          ? '✓'
          : (EVENT_MARKS[event.what] ?? '');
  return (
    <>
      {mark} {event.cell}
      {event.times > 1 && <span className={shared['dim']}> ×{event.times}</span>}
    </>
  );
}

/** How purposes stand, by their first letters. */
export function stateWords(state: NonNullable<VisitEvent['purposes']>, asked: readonly Purpose[]): string {
  const marks = { allowed: '✓', refused: '✕', waits: '–', 'starts on': '●' } as const;
  return asked
    .flatMap((p) => (state[p.code] ? [`${p.name[0]} ${marks[state[p.code] as 'allowed']}`] : []))
    .join('  ');
}
