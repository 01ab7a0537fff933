import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { useDeskLocation } from '../desk/location.ts';
import { AiSheet } from './ai/AiSheet.tsx';
import { AiSoundings } from './ai/AiSoundings.tsx';
import { NewAiDialog } from './ai/NewAiDialog.tsx';
import { DossierRegister } from './dossiers/DossierRegister.tsx';
import { DossiersSheet } from './dossiers/DossiersSheet.tsx';
import { NewDossierDialog } from './dossiers/NewDossierDialog.tsx';
import { ImpactSheet } from './impact/ImpactSheet.tsx';
import { ImpactSoundings } from './impact/ImpactSoundings.tsx';
import { DOSSIERS, isDossier, type DossierWhat } from './links.ts';
import { VendorSheet } from './vendors/VendorSheet.tsx';
import { VendorSoundings } from './vendors/VendorSoundings.tsx';
import { CasesShelf } from './CasesShelf.tsx';
import { IncidentRegister } from './incidents/IncidentRegister.tsx';
import { IncidentSheet } from './incidents/IncidentSheet.tsx';
import { IncidentSoundings } from './incidents/IncidentSoundings.tsx';
import { IncidentsSheet } from './incidents/IncidentsSheet.tsx';
import { NewIncidentDialog } from './incidents/NewIncidentDialog.tsx';
import { NewRequestDialog } from './requests/NewRequestDialog.tsx';
import { RequestRegister } from './requests/RequestRegister.tsx';
import { RequestSheet } from './requests/RequestSheet.tsx';
import { RequestSoundings } from './requests/RequestSoundings.tsx';
import { RequestsSheet } from './requests/RequestsSheet.tsx';
import { RequestTrends } from './requests/RequestTrends.tsx';
import { TasksSheet } from './requests/TasksSheet.tsx';

/** What people ask, what went wrong, what is planned, who works for us, and which machines decide. */
export function CasesArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const sees = may(account, 'cases.read');
  const seesDossiers = may(account, 'cases.dossiers.read');
  const keys = useMemo(() => keysOf(account, what), [account, what]);
  const shown = shownOf(what, sees, seesDossiers);
  const fresh = query.get('new');
  return (
    <Desk
      account={account}
      area="cases"
      keys={keys}
      register={
        <>
          <CasesShelf what={shown} sees={sees} seesDossiers={seesDossiers} />
          {shown === 'requests' && <RequestRegister chosen={id} />}
          {shown === 'incidents' && <IncidentRegister chosen={id} />}
          {isDossier(shown) && <DossierRegister key={shown} what={shown} chosen={id} />}
        </>
      }
      sheet={
        <>
          {shown === 'tasks' && <TasksSheet />}
          {shown === 'incidents' && (id ? <IncidentSheet key={id} id={id} /> : <IncidentsSheet />)}
          {shown === 'requests' && (id ? <RequestSheet key={id} id={id} /> : <RequestsSheet />)}
          {isDossier(shown) &&
            (id ? <DossierSheet key={shown + id} what={shown} id={id} /> : <DossiersSheet what={shown} />)}
          {fresh === 'request' && may(account, 'cases.handle') && <NewRequestDialog />}
          {fresh === 'incident' && may(account, 'cases.incidents') && <NewIncidentDialog />}
          {may(account, 'cases.dossiers') && (
            <>
              {fresh === 'impact' && <NewDossierDialog what="impact" placeholder="Cameras at the gates" />}
              {fresh === 'vendors' && <NewDossierDialog what="vendors" placeholder="Wavemeter" />}
              {fresh === 'ai' && <NewAiDialog />}
            </>
          )}
        </>
      }
      soundings={soundingsOf(shown, id)}
    />
  );
}

type Shown = 'requests' | 'incidents' | 'tasks' | DossierWhat;

function shownOf(what: string | undefined, sees: boolean, seesDossiers: boolean): Shown {
  if (isDossier(what) && seesDossiers) return what;
  if (what === 'tasks' || !sees) return 'tasks';
  return what === 'incidents' ? 'incidents' : 'requests';
}

function DossierSheet({ what, id }: { readonly what: DossierWhat; readonly id: string }) {
  if (what === 'impact') return <ImpactSheet id={id} />;
  return what === 'vendors' ? <VendorSheet id={id} /> : <AiSheet id={id} />;
}

function soundingsOf(shown: Shown, id: string | undefined) {
  if (shown === 'requests') return id ? <RequestSoundings key={id} id={id} /> : <RequestTrends />;
  if (!id || shown === 'tasks') return undefined;
  if (shown === 'incidents') return <IncidentSoundings key={id} id={id} />;
  if (shown === 'impact') return <ImpactSoundings key={id} id={id} />;
  return shown === 'vendors' ? <VendorSoundings key={id} id={id} /> : <AiSoundings key={id} id={id} />;
}

function keysOf(account: Account, what: string | undefined): readonly Key[] {
  if (isDossier(what))
    return may(account, 'cases.dossiers')
      ? newKey(`Begin ${/^[aeiou]/i.test(DOSSIERS[what].one) ? 'an' : 'a'} ${DOSSIERS[what].one}`, what)
      : [];
  if (what === 'incidents')
    return may(account, 'cases.incidents') ? newKey('Take in an incident', 'incident') : [];
  return may(account, 'cases.handle') ? newKey('Take in a request', 'request') : [];
}
