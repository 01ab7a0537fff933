import { useMemo } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { go, setQuery, useDeskLocation } from '../desk/location.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { EntrySoundings } from './EntrySoundings.tsx';
import { LedgerSheet } from './LedgerSheet.tsx';
import { LedgerSoundings } from './LedgerSoundings.tsx';

const ROWS = [
  {
    id: 'ledger',
    name: 'Ledger',
    detail: 'every decision, change and outcome, sealed',
    href: '/evidence/ledger',
  },
];

export function EvidenceArea({ account }: { readonly account: Account }) {
  const { query } = useDeskLocation();
  const entry = query.get('entry');
  const keys = useMemo(
    () => [{ press: 'v', does: 'Verify the ledger', act: () => setQuery({ verify: 'now', entry: null }) }],
    [],
  );
  return (
    <Desk
      account={account}
      area="evidence"
      keys={keys}
      register={
        <RegisterList
          what="kinds of evidence"
          rows={ROWS}
          chosen="ledger"
          onChoose={(r) => go(r.href)}
          empty=""
        />
      }
      sheet={<LedgerSheet />}
      soundings={entry ? <EntrySoundings key={entry} id={entry} /> : <LedgerSoundings />}
    />
  );
}
