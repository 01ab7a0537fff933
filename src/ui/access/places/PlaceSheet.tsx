import type { PlaceSheet as Place } from '../../../server/access/place-sheet.ts';
import { dayText } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Tabs, type Tab } from '../../parts/Tabs.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { EventsTable } from '../changes/EventsTable.tsx';
import { makeChange } from '../changes/make-change.ts';
import { PastDay } from '../PastDay.tsx';
import { personLink, placeLink } from '../links.ts';
import { ThenAndNow } from '../ThenAndNow.tsx';
import { usePlace } from '../use-access.ts';
import { BelowTable } from './BelowTable.tsx';
import { GrantsTab } from './GrantsTab.tsx';
import { PropertiesTab } from './PropertiesTab.tsx';
import { WhoTable } from './WhoTable.tsx';
import { WideGrant } from './WideGrant.tsx';
import css from '../access.module.css';

const TABS = ['who', 'grants', 'below', 'changes', 'difference', 'properties'] as const;
type TabId = (typeof TABS)[number];

/** One place: who reaches it by which way, what is granted, what differs below, and what changed. */
export function PlaceSheet({ id, on }: { readonly id: string; readonly on: string | undefined }) {
  const place = usePlace(id, on);
  const { query } = useDeskLocation();
  if (place.isError && (!place.data || place.data.key !== id))
    return <Failure error={place.error} onRetry={() => void place.refetch()} />;
  if (place.data?.key !== id) return <Loading what="the place" />;
  const p = place.data;
  const asked = query.get('tab') as TabId | null;
  const tab: TabId = asked && TABS.includes(asked) ? asked : 'who';
  const tabs: readonly Tab<TabId>[] = [
    { id: 'who', name: 'Who reaches it', count: p.people },
    { id: 'grants', name: 'Grants', count: p.grants },
    { id: 'below', name: 'Below it', count: p.differs },
    ...(on === undefined ? [{ id: 'changes', name: 'Changes' } as const] : []),
    { id: 'difference', name: 'Then and now' },
    { id: 'properties', name: 'Properties' },
  ];
  return (
    <>
      <SheetHead
        title={p.name}
        detail={
          <>
            {p.path.map((up) => (
              <span key={up.key}>
                <a href={placeLink(up.key)}>{up.name}</a> /{' '}
              </span>
            ))}
            {p.name} · {markWords(p)}
            {p.exposure &&
              ` · ${countWords(p.exposure.items, 'item')}, ${numberWords(p.exposure.people)} people in them`}
          </>
        }
        actions={<PlaceActs place={p} past={on !== undefined} />}
      />
      <PastDay on={on} />
      {p.unknown !== null && (
        <p className={css['mark']}>◆ Nobody can say for certain who reaches it: {p.unknown}.</p>
      )}
      {p.anyone.length > 0 && (
        <p className={css['mark']}>
          ◆ Whoever has a link can {p.anyone[0]?.strength} it
          {p.anyone.every((a) => a.until === null)
            ? ', without end'
            : `, until ${dayText(
                p.anyone
                  .map((a) => a.until ?? '9999')
                  .sort()
                  .at(-1) ?? '',
              )}`}
          .
        </p>
      )}
      <Tabs
        label="The place"
        tabs={tabs}
        chosen={tab}
        onChoose={(t) => setQuery({ tab: t === 'who' ? null : t })}
      />
      <div id="tabpanel" role="tabpanel" aria-labelledby={`tab-${tab}`}>
        {tab === 'who' && (
          <>
            {on === undefined && <WideGrant place={id} />}
            <WhoTable place={id} on={on} />
          </>
        )}
        {tab === 'grants' && <GrantsTab place={p} on={on} />}
        {tab === 'below' && <BelowTable place={id} on={on} />}
        {tab === 'changes' && <EventsTable name="place-changes" fixed={{ place: id }} />}
        {tab === 'difference' && (
          <ThenAndNow<{ readonly key: string; readonly name: string }>
            path={`places/${id}`}
            name="Person"
            row={(r) => <a href={personLink(r.key)}>{r.name}</a>}
            words={(before, then, after) =>
              `${countWords(before, 'person', 'people')} reached it on ${then}, ${numberWords(after)} do today.`
            }
          />
        )}
        {tab === 'properties' && <PropertiesTab place={p} />}
      </div>
    </>
  );
}

function markWords(p: Place): string {
  if (p.isFile) return p.mark === 'own' ? 'bits or a list of its own' : 'bits as above';
  if (p.mark === 'inherits') return 'inherits what is granted above';
  const began = p.events.find((e) => e.kind === 'inherits' && e.act === 'set');
  const since = began
    ? ` since ${whenWords(began.at)}${began.initiator ? `, by ${began.initiator}` : ''}`
    : '';
  return p.mark === 'own' ? `its own grants${since}` : 'grants of its own besides those above';
}

function PlaceActs({ place: p, past }: { readonly place: Place; readonly past: boolean }) {
  const mayChange = useMay('access.change');
  const mayReview = useMay('access.review');
  const acts = [
    ...(p.mark === 'own' && p.path.length > 0
      ? [
          {
            id: 'restore',
            words: 'Let it inherit again',
            act: () => void makeChange({ act: 'restore', place: p.key }),
          },
        ]
      : []),
    ...(p.inherits && !p.isFile && p.path.length > 0
      ? [
          {
            id: 'break',
            words: 'End what it inherits, and keep it as it is',
            act: () => void makeChange({ act: 'break', place: p.key, keeps: true }),
          },
          {
            id: 'alone',
            words: 'End what it inherits, and keep only its own',
            act: () => void makeChange({ act: 'break', place: p.key, keeps: false }),
          },
        ]
      : []),
  ];
  if (past) return <a href={placeLink(p.key)}>As it is today</a>;
  return (
    <>
      {mayChange && (
        <Button onClick={() => setQuery({ new: 'change', act: 'give', place: p.key }, 'push')}>
          Give access …
        </Button>
      )}
      {mayChange && !p.isFile && <MenuButton label="Change access" acts={acts} />}
      {mayReview && (
        <Button kind="primary" onClick={() => setQuery({ new: 'review', place: p.key }, 'push')}>
          Start a review
        </Button>
      )}
    </>
  );
}
