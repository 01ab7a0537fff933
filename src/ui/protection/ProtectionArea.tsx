import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { useDeskLocation } from '../desk/location.ts';
import { AlertRegister } from './alerts/AlertRegister.tsx';
import { AlertSheet } from './alerts/AlertSheet.tsx';
import { AlertSoundings } from './alerts/AlertSoundings.tsx';
import { AlertsSheet } from './alerts/AlertsSheet.tsx';
import { AlertTrends } from './alerts/AlertTrends.tsx';
import { ActivitySheet } from './activity/ActivitySheet.tsx';
import { EventSoundings } from './activity/EventSoundings.tsx';
import { DeviceSheet } from './devices/DeviceSheet.tsx';
import { DevicesSheet } from './devices/DevicesSheet.tsx';
import { LetDevicesIn } from './devices/LetDevicesIn.tsx';
import { NewDeviceGroup } from './devices/NewDeviceGroup.tsx';
import { EvidenceSheet } from './evidence/EvidenceSheet.tsx';
import { GroupRegister } from './handling/GroupRegister.tsx';
import { GroupSheet } from './handling/GroupSheet.tsx';
import { GroupsOverview, HandlingOverview } from './handling/HandlingOverview.tsx';
import { AskedSheet } from './questions/AskedSheet.tsx';
import { HandlingRegister } from './handling/HandlingRegister.tsx';
import { HandlingRuleSheet } from './handling/HandlingRuleSheet.tsx';
import { HandlingSoundings } from './handling/HandlingSoundings.tsx';
import { NewGroup } from './handling/NewGroup.tsx';
import { NewHandlingRule } from './handling/NewHandlingRule.tsx';
import { LevelRegister } from './levels/LevelRegister.tsx';
import { LevelSheet } from './levels/LevelSheet.tsx';
import { LevelSoundings } from './levels/LevelSoundings.tsx';
import { LevelsOverview } from './levels/LevelsOverview.tsx';
import { NewLevel } from './levels/NewLevel.tsx';
import { Hooks } from './lookouts/Hooks.tsx';
import { LookoutRegister } from './lookouts/LookoutRegister.tsx';
import { LookoutSheet } from './lookouts/LookoutSheet.tsx';
import { LookoutSoundings } from './lookouts/LookoutSoundings.tsx';
import { LookoutsOverview } from './lookouts/LookoutsOverview.tsx';
import { NewLookout } from './lookouts/NewLookout.tsx';
import { NewPublication } from './publishing/NewPublication.tsx';
import { PublicationRegister } from './publishing/PublicationRegister.tsx';
import { PublicationSheet } from './publishing/PublicationSheet.tsx';
import { PublicationSoundings } from './publishing/PublicationSoundings.tsx';
import { PublishedSheet } from './publishing/PublishedSheet.tsx';
import { ProtectionShelf } from './ProtectionShelf.tsx';
import { LevelRuleRegister } from './rules/LevelRuleRegister.tsx';
import { LevelRuleSheet } from './rules/LevelRuleSheet.tsx';
import { LevelRuleSoundings } from './rules/LevelRuleSoundings.tsx';
import { ProposedSheet } from './rules/ProposedSheet.tsx';
import { LevelRulesSheet } from './rules/LevelRulesSheet.tsx';
import { NewLevelRule } from './rules/NewLevelRule.tsx';
import { LevelRunRegister } from './runs/LevelRunRegister.tsx';
import { LevelRunSheet } from './runs/LevelRunSheet.tsx';
import { LevelRunsSheet } from './runs/LevelRunsSheet.tsx';
import { NewLevelRun } from './runs/NewLevelRun.tsx';
import { UseSheet } from './use/UseSheet.tsx';
import { NewViewRule } from './view/NewViewRule.tsx';
import { ViewRegister } from './view/ViewRegister.tsx';
import { ViewRuleSheet } from './view/ViewRuleSheet.tsx';
import { ViewSoundings } from './view/ViewSoundings.tsx';

/** What levels there are, where they are set by rule, and setting them backwards over what is held. */
export function ProtectionArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const keys = useMemo(() => keysOf(account, what), [account, what]);
  const asked = query.get('new');
  return (
    <Desk
      account={account}
      area="protection"
      keys={keys}
      register={
        <>
          <ProtectionShelf what={what} />
          {what === 'activity' ? (
            <ViewRegister chosen={id} />
          ) : what === 'handling' || what === 'devices' || what === 'kept' ? (
            <HandlingRegister chosen={what === 'handling' ? id : undefined} />
          ) : what === 'groups' ? (
            <GroupRegister chosen={id} />
          ) : what === 'lookouts' ? (
            <LookoutRegister chosen={id} />
          ) : what === 'alerts' ? (
            <AlertRegister chosen={id} />
          ) : what === 'rules' ? (
            <LevelRuleRegister chosen={id} />
          ) : what === 'published' ? (
            <PublicationRegister chosen={id} />
          ) : what === 'runs' ? (
            <LevelRunRegister chosen={id} />
          ) : (
            <LevelRegister chosen={id} />
          )}
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} />
          {asked === 'level' && <NewLevel />}
          {asked === 'rule' && <NewLevelRule />}
          {asked === 'publication' && <NewPublication />}
          {asked === 'run' && <NewLevelRun />}
          {asked === 'handling' && <NewHandlingRule />}
          {asked === 'view' && <NewViewRule />}
          {asked === 'lookout' && <NewLookout />}
          {asked === 'hooks' && <Hooks />}
          {asked === 'group' && <NewGroup />}
          {asked === 'enrolment' && <LetDevicesIn />}
          {asked === 'device-group' && <NewDeviceGroup />}
        </>
      }
      soundings={soundingsOf(what, id, query)}
    />
  );
}

function keysOf(account: Account, what: string | undefined): readonly Key[] {
  if (what === 'runs') return may(account, 'protection.run') ? newKey('Set levels backwards', 'run') : [];
  if (what === 'activity')
    return may(account, 'protection.watch') ? newKey('New rule about what is kept', 'view') : [];
  if (what === 'lookouts' || what === 'alerts')
    return may(account, 'protection.watch') ? newKey('New lookout', 'lookout') : [];
  if (!may(account, 'protection.edit')) return [];
  if (what === 'published') return newKey('New publication', 'publication');
  if (what === 'groups') return newKey('New group', 'group');
  if (what === 'handling' || what === 'devices') return newKey('New handling rule', 'handling');
  return what === 'rules' ? newKey('New level rule', 'rule') : newKey('New level', 'level');
}

function SheetOf({ what, id }: { readonly what: string | undefined; readonly id: string | undefined }) {
  switch (what) {
    case 'rules':
      return id === 'proposed' ? (
        <ProposedSheet />
      ) : id ? (
        <LevelRuleSheet key={id} id={id} />
      ) : (
        <LevelRulesSheet />
      );
    case 'handling':
      return id === 'asked' ? (
        <AskedSheet />
      ) : id === 'use' ? (
        <UseSheet />
      ) : id ? (
        <HandlingRuleSheet key={id} id={id} />
      ) : (
        <HandlingOverview />
      );
    case 'kept':
      return <EvidenceSheet />;
    case 'lookouts':
      return id ? <LookoutSheet key={id} id={id} /> : <LookoutsOverview />;
    case 'alerts':
      return id ? <AlertSheet key={id} id={id} /> : <AlertsSheet />;
    case 'activity':
      return id ? <ViewRuleSheet key={id} id={id} /> : <ActivitySheet />;
    case 'devices':
      return id ? <DeviceSheet key={id} id={id} /> : <DevicesSheet />;
    case 'groups':
      return id ? <GroupSheet key={id} id={id} /> : <GroupsOverview />;
    case 'published':
      return id ? <PublicationSheet key={id} id={id} /> : <PublishedSheet />;
    case 'runs':
      return id ? <LevelRunSheet key={id} id={id} /> : <LevelRunsSheet />;
    default:
      return id ? <LevelSheet key={id} id={id} /> : <LevelsOverview />;
  }
}

function soundingsOf(what: string | undefined, id: string | undefined, query: URLSearchParams) {
  const [event, at] = [query.get('event'), query.get('at')];
  if ((what === 'activity' || what === 'alerts') && event && at)
    return <EventSoundings key={event} id={event} at={at} />;
  if (what === 'activity' && id) return <ViewSoundings key={id} id={id} />;
  if (what === 'lookouts' && id) return <LookoutSoundings key={id} id={id} />;
  if (what === 'alerts') return id ? <AlertSoundings key={id} id={id} /> : <AlertTrends />;
  if (what === 'handling' && id && id !== 'asked' && id !== 'use')
    return <HandlingSoundings key={id} id={id} />;
  if (what === 'rules' && id && id !== 'proposed') return <LevelRuleSoundings key={id} id={id} />;
  if (what === 'published' && id) return <PublicationSoundings key={id} id={id} />;
  if (what === 'levels' && id) return <LevelSoundings key={id} id={id} />;
  return undefined;
}
