import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { useDeskLocation } from '../desk/location.ts';
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

/** What people ask, and what is done about it. */
export function CasesArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const [sees, handles] = [may(account, 'cases.read'), may(account, 'cases.handle')];
  const keys = useMemo(() => keysOf(account, what), [account, what]);
  const tasks = what === 'tasks' || !sees;
  return (
    <Desk
      account={account}
      area="cases"
      keys={keys}
      register={
        <>
          <CasesShelf what={tasks ? 'tasks' : what === 'incidents' ? what : 'requests'} sees={sees} />
          {sees &&
            (what === 'incidents' ? <IncidentRegister chosen={id} /> : <RequestRegister chosen={id} />)}
        </>
      }
      sheet={
        <>
          {tasks ? (
            <TasksSheet />
          ) : what === 'incidents' ? (
            id ? (
              <IncidentSheet key={id} id={id} />
            ) : (
              <IncidentsSheet />
            )
          ) : id ? (
            <RequestSheet key={id} id={id} />
          ) : (
            <RequestsSheet />
          )}
          {query.get('new') === 'request' && handles && <NewRequestDialog />}
          {query.get('new') === 'incident' && may(account, 'cases.incidents') && <NewIncidentDialog />}
        </>
      }
      soundings={
        !sees ? undefined : what === 'incidents' ? (
          id ? (
            <IncidentSoundings key={id} id={id} />
          ) : undefined
        ) : id && !tasks ? (
          <RequestSoundings key={id} id={id} />
        ) : (
          <RequestTrends />
        )
      }
    />
  );
}

function keysOf(account: Account, what: string | undefined): readonly Key[] {
  if (what === 'incidents')
    return may(account, 'cases.incidents') ? newKey('Take in an incident', 'incident') : [];
  return may(account, 'cases.handle') ? newKey('Take in a request', 'request') : [];
}
