import { useState } from 'react';
import type * as reachedApi from '../../../pages/api/access/people/[key]/reached.ts';
import { STRENGTHS } from '../../../core/access/reach/strength.ts';
import { dayText } from '../../../core/text/day.ts';
import type { PrincipalView, ReachedRow } from '../../../server/access/index/person-answers.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Tabs, type Tab } from '../../parts/Tabs.tsx';
import { Tree } from '../../parts/Tree.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { EventsTable } from '../changes/EventsTable.tsx';
import { makeChange } from '../changes/make-change.ts';
import { personLink, placeLink } from '../links.ts';
import { PastDay } from '../PastDay.tsx';
import { seenTreeNode } from '../places/place-node.ts';
import { REACH_COLUMNS } from '../reach-columns.tsx';
import { AlsoAs, ReachTools } from '../ReachTools.tsx';
import { ThenAndNow } from '../ThenAndNow.tsx';
import { loadPlaces, usePerson, usePlaces } from '../use-access.ts';
import css from '../access.module.css';

const TABS = ['reached', 'tree', 'groups', 'changes', 'difference'] as const;
type TabId = (typeof TABS)[number];

/** One person or group: what they reach and by which way, the places as they see them, and their groups. */
export function PersonSheet({ id, on }: { readonly id: string; readonly on: string | undefined }) {
  const person = usePerson(id, on);
  const { query } = useDeskLocation();
  if (person.isError && !person.data)
    return <Failure error={person.error} onRetry={() => void person.refetch()} />;
  if (!person.data) return <Loading what="what they reach" />;
  const p = person.data;
  const asked = query.get('tab') as TabId | null;
  const isGroup = p.is === 'group';
  const tab: TabId = asked && TABS.includes(asked) ? asked : isGroup ? 'groups' : 'reached';
  const all = p.counts && STRENGTHS.reduce((n, s) => n + (p.counts?.[s] ?? 0), 0);
  const tabs: readonly Tab<TabId>[] = [
    ...(isGroup
      ? []
      : ([
          { id: 'reached', name: 'Places they reach', count: all ?? 0 },
          { id: 'tree', name: 'As they see it' },
        ] as const)),
    {
      id: 'groups',
      name: isGroup ? 'Members and groups' : 'Groups',
      count: isGroup ? p.memberCount : p.groupCount,
    },
    ...(on === undefined ? [{ id: 'changes', name: 'Changes' } as const] : []),
    ...(on === undefined && !isGroup ? [{ id: 'difference', name: 'Then and now' } as const] : []),
  ];
  return (
    <>
      <SheetHead
        title={p.name}
        detail={detailOf(p, all)}
        actions={
          on === undefined ? <PersonActs person={p} /> : <a href={personLink(p.key)}>As it is today</a>
        }
      />
      <PastDay on={on} />
      {p.left !== null && p.open && (
        <p className={css['mark']}>◆ Their work ended on {dayText(p.left)}, and the account is still open.</p>
      )}
      <Tabs
        label={p.name}
        tabs={tabs}
        chosen={tab}
        onChoose={(t) => setQuery({ tab: t === tabs[0]?.id ? null : t })}
      />
      <div id="tabpanel" role="tabpanel" aria-labelledby={`tab-${tab}`}>
        {tab === 'reached' && <ReachedTable person={id} on={on} />}
        {tab === 'tree' && <SeenTree person={id} on={on} />}
        {tab === 'groups' && <Groups person={p} />}
        {tab === 'changes' && <EventsTable name="person-changes" fixed={{ who: id }} />}
        {tab === 'difference' && (
          <ThenAndNow<{ readonly key: string; readonly name: string; readonly path: string }>
            path={`people/${id}`}
            name="Place"
            row={(r) => (
              <>
                <a href={placeLink(r.key)}>{r.name}</a> <small className={css['dim']}>{r.path}</small>
              </>
            )}
            words={(before, then, after) =>
              `They reached ${countWords(before, 'place')} on ${then}, and reach ${numberWords(after)} today.`
            }
          />
        )}
      </div>
    </>
  );
}

function detailOf(p: PrincipalView, all: number | null): string {
  const given = [
    ...(p.given.grants > 0 ? [countWords(p.given.grants, 'grant')] : []),
    ...(p.given.links > 0 ? [countWords(p.given.links, 'link')] : []),
    ...(p.given.groups > 0 ? [countWords(p.given.groups, 'membership')] : []),
    ...(p.given.owned > 0 ? [`${countWords(p.given.owned, 'place')} of their own`] : []),
  ];
  return [
    p.is === 'group' ? `group of ${countWords(p.inAll, 'person', 'people')}` : p.work,
    ...(p.mail === null ? [] : [p.mail]),
    ...(p.open ? [] : ['account closed']),
    ...(all === null ? [] : [`reaches ${numberWords(all)} of ${numberWords(p.inAll)} places`]),
    given.length > 0 ? `by name: ${given.join(', ')}` : 'nothing by name',
    ...(p.lastUse === null ? [] : [`last used something on ${dayText(p.lastUse)}`]),
  ]
    .filter(Boolean)
    .join(' · ');
}

function PersonActs({ person: p }: { readonly person: PrincipalView }) {
  const mayReview = useMay('access.review');
  if (!useMay('access.change')) return null;
  const review = mayReview && (
    <Button onClick={() => setQuery({ new: 'review', person: p.key }, 'push')}>Start a review</Button>
  );
  const open = (act: string) => setQuery({ new: 'change', act, person: p.key }, 'push');
  if (p.is === 'group')
    return (
      <>
        {review}
        <Button onClick={() => open('member')}>Change who is in it …</Button>
      </>
    );
  return (
    <>
      {review}
      <MenuButton
        label="Copy or move"
        acts={[
          { id: 'copy', words: 'Copy their access to others …', act: () => open('copy') },
          { id: 'move', words: 'Move their access to somebody …', act: () => open('move') },
        ]}
      />
      <Button
        kind={p.left === null ? 'plain' : 'primary'}
        onClick={() => void makeChange({ act: 'clear', who: [p.key] })}
      >
        Clear everywhere
      </Button>
    </>
  );
}

const COLUMNS: readonly Column<ReachedRow>[] = [
  {
    key: 'place',
    title: 'Place',
    width: '40%',
    cell: (r) => (
      <span className={css['cut']} title={`${r.path} / ${r.name}`}>
        <a href={placeLink(r.key)}>{r.name}</a> <small className={css['dim']}>{r.path}</small>
      </span>
    ),
  },
  ...REACH_COLUMNS,
];

function ReachedTable({ person, on }: { readonly person: string; readonly on: string | undefined }) {
  const { query } = useDeskLocation();
  const [text, setText] = useState('');
  const asked = { text: text.trim() || undefined, on, strength: query.get('strength') ?? undefined };
  const path = `/api/access/people/${person}`;
  return (
    <>
      <DataTable
        label="Places they reach"
        name="access-reached"
        columns={COLUMNS}
        queryKey={['access-reached', person, asked]}
        load={(after) =>
          request<AnswerOf<typeof reachedApi.GET>>(
            'GET',
            `${path}/reached${queryString({ ...asked, after })}`,
          )
        }
        rowKey={(r) => r.key}
        rowName={(r) => `${r.name}, ${r.strength}`}
        opened={query.get('place') ?? undefined}
        onOpen={(r) => setQuery({ place: r.key })}
        exportHref={`${path}/export${queryString({ ...asked, as: 'csv' })}`}
        filters={<ReachTools what="places" text={text} onText={setText} strength={asked.strength} />}
        empty={<Empty title="Nothing">They reach no place{text ? ' that is called so' : ''}.</Empty>}
      />
      <AlsoAs path={path} asked={asked} />
    </>
  );
}

function SeenTree({ person, on }: { readonly person: string; readonly on: string | undefined }) {
  const { query } = useDeskLocation();
  const roots = usePlaces(person, on);
  if (roots.isError) return <Failure error={roots.error} onRetry={() => void roots.refetch()} />;
  if (!roots.data) return <Loading what="the places" />;
  return (
    <div className={css['tree']}>
      <Tree
        key={`${person} ${on ?? ''}`}
        label="Places as they see them"
        roots={roots.data.map(seenTreeNode)}
        load={async (key) => (await loadPlaces(key, person, on)).map(seenTreeNode)}
        chosen={query.get('place') ?? undefined}
        height={520}
        onChoose={(node) => setQuery({ place: node.id })}
      />
    </div>
  );
}

function Groups({ person: p }: { readonly person: PrincipalView }) {
  return (
    <>
      {p.is === 'group' && (
        <>
          <h2 className={css['heading']}>
            In it by name
            {p.memberCount > p.members.length ? `, the first ${p.members.length} of ${p.memberCount}` : ''}
          </h2>
          <ul className={css['plain']}>
            {p.members.map((m) => (
              <li key={m.key ?? m.name}>
                {m.key === null ? m.name : <a href={personLink(m.key)}>{m.name}</a>}
                {m.is === 'group' && ` (group of ${m.people})`}
                {m.is === 'unknown' && ' (nobody who is known)'}
              </li>
            ))}
          </ul>
          {p.members.length === 0 && <p className={css['note']}>Nobody is in it by name.</p>}
          <h2 className={css['heading']}>Groups that it is in</h2>
        </>
      )}
      <ul className={css['plain']}>
        {p.groups.map(({ group, through }) => (
          <li key={group.key ?? group.name}>
            {group.key === null ? group.name : <a href={personLink(group.key)}>{group.name}</a>} (
            {numberWords(group.people)}){through.length > 0 && <small>through {through.join(' › ')}</small>}
          </li>
        ))}
      </ul>
      {p.groupCount > p.groups.length && (
        <p className={css['note']}>and {numberWords(p.groupCount - p.groups.length)} more</p>
      )}
      {p.groups.length === 0 && <p className={css['note']}>In no group.</p>}
    </>
  );
}
