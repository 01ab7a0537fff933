import { useMemo, useState } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { may } from '../../core/accounts/authority.ts';
import { KIND_WORDS } from '../../core/holdings/detection/detector/own-detector.ts';
import { useMay } from '../desk/account-context.ts';
import { Desk } from '../desk/Desk.tsx';
import { go, useDeskLocation } from '../desk/location.ts';
import { countWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { RegisterList, type RegisterRow } from '../parts/RegisterList.tsx';
import { StageTag } from '../parts/StageTag.tsx';
import { Shelf } from '../parts/Shelf.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import { DetectorSheet } from './detection/detectors/DetectorSheet.tsx';
import { LabelledSetSheet } from './detection/labelled/LabelledSetSheet.tsx';
import { LibraryIntroduction } from './detection/detectors/LibraryIntroduction.tsx';
import { NewSet } from './detection/labelled/NewSet.tsx';
import { detectorLink, NEW_DETECTOR, setLink, SETS } from './links.ts';
import { NewDetector } from './detection/detectors/NewDetector.tsx';
import { SetFigures } from './detection/labelled/SetFigures.tsx';
import { SetOverview } from './detection/labelled/SetOverview.tsx';
import { TrialSoundings } from './detection/detectors/TrialSoundings.tsx';
import { useDetectors, useSets } from './detection/detectors/use-detectors.ts';

/** The detectors: what each looks for, how well it does, and a place to make and try them. */
export function HoldingsArea({ account }: { readonly account: Account }) {
  const { path } = useDeskLocation();
  const [what, id] = path;
  const detector = what === 'detectors' ? id : undefined;
  const keys = useMemo(
    () =>
      may(account, 'holdings.edit')
        ? [{ press: 'n', does: 'Make a detector', act: () => go(NEW_DETECTOR) }]
        : [],
    [account],
  );
  return (
    <Desk
      account={account}
      area="holdings"
      keys={keys}
      register={<HoldingsRegister what={what} chosen={path.slice(0, 2).join('/')} />}
      sheet={
        detector ? (
          <DetectorSheet key={detector} id={detector} />
        ) : what === 'sets' && id ? (
          <LabelledSetSheet key={id} id={id} />
        ) : what === 'sets' ? (
          <FirstSet />
        ) : what === 'new' ? (
          <NewDetector />
        ) : (
          <LibraryIntroduction />
        )
      }
      soundings={
        <>
          {what === 'sets' && id && <SetOverview key={`set ${id}`} set={id} />}
          {detector && <SetFigures key={`figures ${detector}`} detector={detector} />}
          <TrialSoundings key={detector ?? ''} detector={detector} />
        </>
      }
    />
  );
}

/** The kinds of object in Holdings, and a list of the one chosen. */
function HoldingsRegister({ what, chosen }: { readonly what: string | undefined; readonly chosen: string }) {
  const detectors = useDetectors();
  const sets = useSets();
  const inSets = what === 'sets';
  const { own = [], builtIn = [] } = detectors.data ?? {};
  return (
    <>
      <Shelf
        entries={[
          {
            name: 'Detectors',
            count: detectors.data && own.length + builtIn.length,
            href: '/holdings',
            chosen: !inSets,
          },
          { name: 'Labelled sets', count: sets.data?.length, href: SETS, chosen: inSets },
        ]}
      />
      {inSets ? <SetRegister chosen={chosen} /> : <DetectorRegister chosen={chosen} />}
    </>
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

function DetectorRegister({ chosen }: { readonly chosen: string }) {
  const detectors = useDetectors();
  const mayEdit = useMay('holdings.edit');
  if (detectors.isError && !detectors.data)
    return <Failure error={detectors.error} onRetry={() => void detectors.refetch()} />;
  const { own = [], builtIn = [] } = detectors.data ?? {};
  const rows: RegisterRow[] = [
    ...own.map((d) => ({
      id: `detectors/${d.id}`,
      name: d.name,
      detail: KIND_WORDS[d.kind],
      tag: <StageTag state={d.stage.state} />,
      href: detectorLink(d.id),
      group: 'Your detectors',
    })),
    ...builtIn.map((d) => ({
      id: `detectors/${d.id}`,
      name: d.name,
      detail: d.country ? `${d.category} · ${d.country}` : d.category,
      href: detectorLink(d.id),
      group: 'Ships with Yare Warden',
    })),
  ];
  return (
    <RegisterList
      what="detectors"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => go(NEW_DETECTOR)}>New</Button>}
      footer={{ name: 'All detectors together', href: '/holdings', chosen: chosen === '' }}
      empty={detectors.isPending ? 'Loading …' : 'No detector is called so.'}
    />
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
