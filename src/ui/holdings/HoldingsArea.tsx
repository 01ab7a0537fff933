import { useMemo, useState } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { may } from '../../core/accounts/authority.ts';
import { useMay } from '../desk/account-context.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { go, useDeskLocation } from '../desk/location.ts';
import { countWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import { DetectorRegister } from './detection/detectors/DetectorRegister.tsx';
import { DetectorSheet } from './detection/detectors/DetectorSheet.tsx';
import { LibraryIntroduction } from './detection/detectors/LibraryIntroduction.tsx';
import { NewDetector } from './detection/detectors/NewDetector.tsx';
import { TrialSoundings } from './detection/detectors/TrialSoundings.tsx';
import { useSets } from './detection/detectors/use-detectors.ts';
import { LabelledSetSheet } from './detection/labelled/LabelledSetSheet.tsx';
import { NewSet } from './detection/labelled/NewSet.tsx';
import { SetFigures } from './detection/labelled/SetFigures.tsx';
import { SetOverview } from './detection/labelled/SetOverview.tsx';
import { ExplorerSheet } from './explorer/ExplorerSheet.tsx';
import { ItemSheet, ItemSoundings } from './explorer/ItemSheet.tsx';
import { LensSoundings } from './explorer/LensSoundings.tsx';
import { HoldingsShelf } from './HoldingsShelf.tsx';
import { ListingSheet } from './listings/ListingSheet.tsx';
import { NewListing } from './listings/NewListing.tsx';
import { LensRegister } from './lenses/LensRegister.tsx';
import { NEW_DETECTOR, setLink, SURVEYS } from './links.ts';
import { ActivitySheet } from './records/ActivitySheet.tsx';
import { RecordRegister } from './records/RecordRegister.tsx';
import { RecordsSheet } from './records/RecordsSheet.tsx';
import { NewSource, NewSystem } from './sources/NewSource.tsx';
import { SourceRegister } from './sources/SourceRegister.tsx';
import { SourceSheet } from './sources/SourceSheet.tsx';
import { SourcesSheet } from './sources/SourcesSheet.tsx';
import { SystemSheet } from './sources/SystemSheet.tsx';
import { NewSurvey } from './surveys/NewSurvey.tsx';
import { SurveyRegister } from './surveys/SurveyRegister.tsx';
import { SurveySheet } from './surveys/SurveySheet.tsx';

/** What personal data is held, where and about whom; what reads it, and what recognises it. */
export function HoldingsArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const chosen = path.slice(0, 2).join('/');
  const keys = useMemo(() => keysOf(account, what), [account, what]);
  const asked = query.get('new');
  return (
    <Desk
      account={account}
      area="holdings"
      keys={keys}
      register={
        <>
          <HoldingsShelf what={what} />
          <RegisterOf what={what} id={id} chosen={chosen} />
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} />
          {asked === 'source' && <NewSource />}
          {asked === 'system' && <NewSystem />}
          {asked === 'listing' && <NewListing />}
          {asked === 'survey' && <NewSurvey />}
        </>
      }
      soundings={what && NO_SOUNDINGS.includes(what) ? undefined : <SoundingsOf what={what} id={id} />}
    />
  );
}

const NO_SOUNDINGS: readonly string[] = ['sources', 'systems', 'listings', 'surveys', 'records'];

function keysOf(account: Account, what: string | undefined): readonly Key[] {
  if (what === 'sources' || what === 'systems' || what === 'listings')
    return may(account, 'holdings.sources') ? newKey('Take in a source', 'source') : [];
  if (what === 'surveys') return may(account, 'holdings.survey') ? newKey('New survey', 'survey') : [];
  if (what === undefined || what === 'items' || what === 'records') return [];
  return may(account, 'holdings.edit')
    ? [{ press: 'n', does: 'Make a detector', act: () => go(NEW_DETECTOR) }]
    : [];
}

interface Opened {
  readonly what: string | undefined;
  readonly id: string | undefined;
}

function RegisterOf({ what, id, chosen }: Opened & { readonly chosen: string }) {
  switch (what) {
    case undefined:
    case 'items':
      return <LensRegister />;
    case 'sources':
    case 'systems':
    case 'listings':
      return <SourceRegister chosen={chosen} />;
    case 'surveys':
      return <SurveyRegister chosen={id} />;
    case 'records':
      return <RecordRegister chosen={id} />;
    case 'sets':
      return <SetRegister chosen={chosen} />;
    default:
      return <DetectorRegister chosen={chosen} />;
  }
}

function SheetOf({ what, id }: Opened) {
  switch (what) {
    case undefined:
      return <ExplorerSheet />;
    case 'items':
      return id ? <ItemSheet key={id} id={id} /> : <ExplorerSheet />;
    case 'systems':
      return id ? <SystemSheet key={id} id={id} /> : <SourcesSheet />;
    case 'listings':
      return id ? <ListingSheet key={id} id={id} /> : <SourcesSheet />;
    case 'sources':
      return id ? <SourceSheet key={id} id={id} /> : <SourcesSheet />;
    case 'surveys':
      return id ? <SurveySheet key={id} id={id} /> : <SurveysIntroduction />;
    case 'records':
      return id ? <ActivitySheet key={id} id={id} /> : <RecordsSheet />;
    case 'sets':
      return id ? <LabelledSetSheet key={id} id={id} /> : <FirstSet />;
    case 'new':
      return <NewDetector />;
    default:
      return id ? <DetectorSheet key={id} id={id} /> : <LibraryIntroduction />;
  }
}

function SoundingsOf({ what, id }: Opened) {
  switch (what) {
    case undefined:
      return <LensSoundings />;
    case 'items':
      return id ? <ItemSoundings key={id} id={id} /> : <LensSoundings />;
    case 'sets':
      return (
        <>
          {id && <SetOverview key={`set ${id}`} set={id} />}
          <TrialSoundings detector={undefined} />
        </>
      );
    default: {
      const detector = what === 'detectors' ? id : undefined;
      return (
        <>
          {detector && <SetFigures key={`figures ${detector}`} detector={detector} />}
          <TrialSoundings key={detector ?? ''} detector={detector} />
        </>
      );
    }
  }
}

function SurveysIntroduction() {
  const may = useMay('holdings.survey');
  return (
    <Empty
      title="Surveys"
      action={
        may && (
          <Button kind="primary" onClick={() => go(`${SURVEYS}?new=survey`)}>
            New survey
          </Button>
        )
      }
    >
      A survey reads sources to find personal data. What it will read, how long that takes and what it costs
      is told before anything is opened; what is known and unchanged is left out.
    </Empty>
  );
}

function SetRegister({ chosen }: { readonly chosen: string }) {
  const sets = useSets();
  const mayEdit = useMay('holdings.edit');
  const [naming, setNaming] = useState(false);
  if (sets.isError && !sets.data) return <Failure error={sets.error} onRetry={() => void sets.refetch()} />;
  return (
    <>
      <RegisterList
        what="labelled sets"
        rows={(sets.data ?? []).map((s) => ({
          id: `sets/${s.id}`,
          name: s.name,
          detail: `${countWords(s.texts, 'text')}, ${countWords(s.marks, 'mark')}`,
          href: setLink(s.id),
        }))}
        chosen={chosen}
        onChoose={(r) => go(r.href)}
        action={mayEdit && <Button onClick={() => setNaming(true)}>New</Button>}
        empty={
          sets.isPending ? 'Loading …' : 'Press New to begin the first: texts whose personal data you mark.'
        }
      />
      {naming && <NewSet onClose={() => setNaming(false)} />}
    </>
  );
}

/** With no set chosen: the first one, or what to do first. */
function FirstSet() {
  const { data } = useSets();
  if (!data) return <Loading what="labelled sets" />;
  const [first] = data;
  if (first) {
    queueMicrotask(() => go(setLink(first.id), 'replace'));
    return <Loading what={first.name} />;
  }
  return (
    <Empty title="No labelled set yet">
      Texts of your own whose personal data you mark. Every detector is then held against them: what it finds,
      what it misses, and how sure that is.
    </Empty>
  );
}
