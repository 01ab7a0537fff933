import { useQuery } from '@tanstack/react-query';
import { EVENT_LIST, EVENT_OPTIONS } from '../../../core/protection/activity/event-list.ts';
import type { LensVocabulary } from '../../../core/lens/fact.ts';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import { EVENT_KIND_WORDS, EVENT_KINDS, type EventKind } from '../../../core/protection/activity/event.ts';
import { OUTCOME_WORDS } from '../../../core/protection/lookouts/watch-lines.ts';
import type * as countsApi from '../../../pages/api/protection/activity/counts.ts';
import type * as activityApi from '../../../pages/api/protection/activity/index.ts';
import type * as keptApi from '../../../pages/api/protection/activity/kept.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { KeptEvent } from '../../../server/protection/activity/event-store.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { useLenses } from '../../holdings/offers.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty } from '../../parts/states.tsx';
import { useHandlingNames, useHandlingRules } from '../handling/use-handling.ts';
import { useLevels } from '../use-protection.ts';
import { ACTIVITY } from '../links.ts';
import css from '../protection.module.css';

const MOST_COUNTED = 100_000;

/** What people and programs did with data, as it was told. */
export function ActivitySheet() {
  const { query } = useDeskLocation();
  const list = useList(EVENT_LIST);
  const rules = useHandlingRules();
  const names = useHandlingNames();
  const levels = useLevels();
  const lenses = useLenses();
  const lens = list.wish.filters['lens'];
  const path = '/api/protection/activity';
  const first = useQuery({
    queryKey: ['activity-counts', list.asked],
    queryFn: () =>
      request<AnswerOf<typeof countsApi.GET>>('GET', `${path}/counts${queryString({ ...list.asked })}`),
    placeholderData: (b) => b,
  });
  const facets = first.data?.facets;
  const ruleName = (id: string) => rules.data?.find((r) => r.id === id)?.name ?? `rule ${id}`;
  const levelName = (id: string) => levels.data?.find((l) => l.id === id)?.name ?? id;
  const dataName = (id: string) => names?.items.value('data', id) ?? id;
  const columns: readonly Column<KeptEvent>[] = [
    {
      ...{ key: 'at', title: 'Time', width: '116px' },
      cell: ({ event: e }) => <time dateTime={e.at}>{whenWords(e.at)}</time>,
    },
    {
      ...{ key: 'person', title: 'Person' },
      cell: ({ event: e }) => (
        <a href={`${ACTIVITY}${queryString({ person: e.person })}`} title={`All that ${e.person} did`}>
          {e.person.split('@')[0]}
        </a>
      ),
    },
    {
      ...{ key: 'act', title: 'Did' },
      cell: ({ event: e }) =>
        e.change && e.kind !== 'sign-in'
          ? e.change.action.replace('.', ': ').replaceAll('-', ' ')
          : e.channel
            ? `${e.act} · ${e.channel}`
            : e.act,
    },
    {
      ...{ key: 'item', title: 'What' },
      cell: ({ event: e }) => (
        <span className={css['name']}>
          {e.item?.name || (e.item ? 'text' : e.change ? `${e.change.object} ${e.change.id}` : '–')}
        </span>
      ),
    },
    {
      ...{ key: 'found', title: 'Found' },
      cell: ({ event: e }) =>
        e.findings
          .slice(0, 2)
          .map((f) => `${f.matches} ${dataName(f.detector)}`)
          .join(', ') || '–',
    },
    {
      ...{ key: 'towards', title: 'Towards', optional: true },
      cell: ({ event: e }) => <span className={css['name']}>{e.towards.join(', ') || '–'}</span>,
    },
    {
      ...{ key: 'outcome', title: 'Decided' },
      cell: ({ event: e }) => (
        <span className={e.outcome === 'stop' ? css['mark'] : undefined}>
          {OUTCOME_WORDS[e.outcome]}
          {e.answer && ` · ${e.answer}`}
        </span>
      ),
    },
    {
      ...{ key: 'rule', title: 'By', optional: true, hidden: true },
      cell: ({ event: e }) => (e.rules[0] ? ruleName(e.rules[0].rule) : '–'),
    },
    {
      ...{ key: 'level', title: 'Level', optional: true, hidden: true },
      cell: ({ event: e }) => (e.item?.level ? levelName(e.item.level) : '–'),
    },
  ];
  const seen = (filter: keyof NonNullable<typeof facets>) => Object.keys(facets?.[filter] ?? {});
  const worded = (of: Readonly<Record<string, string>>) => (v: string) => of[v] ?? v;
  return (
    <>
      <SheetHead
        title="Activity"
        detail={
          <>
            {first.data ? (list.narrowed ? totalWords : allWords)(first.data.total) : '…'}
            {list.narrowed && ' match'}
            {first.data?.among !== undefined && ` of the newest ${numberWords(first.data.among)}`} · what
            people and programs did with data, never what was in it
          </>
        }
      />
      <KeptDays />
      <DataTable
        label="Activity"
        name="activity"
        columns={columns}
        queryKey={['activity', list.asked]}
        load={(after) =>
          request<AnswerOf<typeof activityApi.GET>>('GET', `${path}${queryString({ ...list.asked, after })}`)
        }
        rowKey={({ event: e }) => `${e.at} ${e.id}`}
        rowName={({ event: e }) => `${e.person}, ${e.act}, ${whenWords(e.at)}`}
        opened={query.get('event') ? `${query.get('at')} ${query.get('event')}` : undefined}
        onOpen={({ event: e }) => setQuery({ event: e.id, at: e.at }, 'push')}
        exportHref={list.exportHref('/api/protection/activity.csv')}
        filters={
          <ListFilters
            list={EVENT_LIST}
            shown={list}
            only={[
              ...(['channel', 'outcome', 'data', 'lens', 'rule', 'answer', 'act', 'level', 'kind'] as const),
              // Far too many to choose among: one is come to from an act, or from a device.
              ...(['person', 'device'] as const).filter((f) => list.wish.filters[f]),
              ...(['from', 'to'] as const),
            ]}
            values={{
              ...{ channel: seen('channel'), outcome: seen('outcome'), rule: seen('rule'), act: seen('act') },
              data: first.data?.data ?? [],
              lens: [...new Set([...(lens ? [lens] : []), ...(lenses.data ?? []).map((l) => l.line)])],
              ...{ answer: seen('answer'), level: seen('level'), kind: seen('kind') },
            }}
            names={{
              channel: worded(EVENT_OPTIONS.channel),
              outcome: worded({ go: 'Let go', record: 'Recorded', ask: 'Asked', stop: 'Stopped' }),
              act: worded(EVENT_OPTIONS.act),
              answer: worded(EVENT_OPTIONS.answer),
              kind: worded(EVENT_OPTIONS.kind),
              data: dataName,
              lens: (line) =>
                lenses.data?.find((l) => l.line === line)?.name ??
                (names ? sayLens(line, names.items) : line),
              device: (id) => `Device ${id}`,
              rule: ruleName,
              level: levelName,
            }}
            counts={facets ?? {}}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'Nothing that was done matches' : 'Nothing was told yet'}>
            {list.narrowed
              ? 'Widen the filter.'
              : 'Let devices in, or give a program a token for activity. What they tell stands here at once.'}
          </Empty>
        }
      />
    </>
  );
}

/** As a sentence; as it is written where it cannot be read. */
function sayLens(line: string, vocabulary: LensVocabulary): string {
  try {
    return lensWords(parseLens(line), vocabulary) || line;
  } catch {
    return line;
  }
}

const allWords = (total: number) => countWords(total, 'act');

/** Beyond what is counted it is only known that there are more. */
function totalWords(total: number): string {
  return total > MOST_COUNTED ? `more than ${countWords(MOST_COUNTED, 'act')}` : countWords(total, 'act');
}

const DAYS = [0, 7, 30, 90, 180, 365, 730, 1825];

/** How long what each kind tells is kept. */
function KeptDays() {
  const fixed = !useMay('protection.put-in-force');
  const kept = useQuery({
    queryKey: ['activity-kept'],
    queryFn: () => request<AnswerOf<typeof keptApi.GET>>('GET', '/api/protection/activity/kept'),
  });
  if (!kept.data) return null;
  const { data } = kept;
  const put = async (kind: EventKind, days: number) => {
    const saw = data[kind];
    try {
      await request('PUT', '/api/protection/activity/kept', { kind, days, saw });
      const undo = async () =>
        void (await request('PUT', '/api/protection/activity/kept', { kind, days: saw, saw: days }));
      tell('What is older leaves within the hour.', { undo });
    } catch (e) {
      tellFailure(e);
    } finally {
      await kept.refetch();
    }
  };
  return (
    <p className={css['note']}>
      Where no rule says otherwise:{' '}
      {EVENT_KINDS.map((kind, i) => (
        <span key={kind}>
          {i > 0 && ', '}
          what {EVENT_KIND_WORDS[kind]} tells{' '}
          <Slot
            label={`How long what ${EVENT_KIND_WORDS[kind]} tells is kept`}
            words={data[kind] === 0 ? 'not at all' : countWords(data[kind], 'day')}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: String(data[kind]),
              options: DAYS.map((d) => ({
                value: String(d),
                words: d === 0 ? 'not at all' : countWords(d, 'day'),
              })),
              set: (d) => void put(kind, Number(d)),
            }}
          />
        </span>
      ))}
    </p>
  );
}
