import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { useDeskLocation } from '../desk/location.ts';
import { NewNamed } from '../rules/NewNamed.tsx';
import { ClockRegister } from './clocks/ClockRegister.tsx';
import { ClockSheet } from './clocks/ClockSheet.tsx';
import { NewClock } from './clocks/NewClock.tsx';
import { DisposalRegister } from './disposal/DisposalRegister.tsx';
import { DisposalSheet } from './disposal/DisposalSheet.tsx';
import { HoldRegister } from './holds/HoldRegister.tsx';
import { HoldSoundings } from './holds/HoldSoundings.tsx';
import { DisposalsOverview } from './disposal/DisposalsOverview.tsx';
import { HoldsOverview } from './holds/HoldsOverview.tsx';
import { LawOverview } from './law/LawOverview.tsx';
import { HoldSheet } from './holds/HoldSheet.tsx';
import { LawRegister } from './law/LawRegister.tsx';
import { LawSheet } from './law/LawSheet.tsx';
import { boundLink, holdLink } from './links.ts';
import { ScheduleSheet } from './schedule/ScheduleSheet.tsx';
import { RetentionShelf } from './RetentionShelf.tsx';
import { NewRetentionRule } from './rules/NewRetentionRule.tsx';
import { RetentionOverview } from './rules/RetentionOverview.tsx';
import { RetentionRuleRegister } from './rules/RetentionRuleRegister.tsx';
import { RetentionRuleSheet } from './rules/RetentionRuleSheet.tsx';
import { RetentionSoundings } from './rules/RetentionSoundings.tsx';

/** How long what is held is kept, what the law asks, what is held back, and what was let go. */
export function RetentionArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const keys = useMemo(() => keysOf(account, what), [account, what]);
  const asked = query.get('new');
  return (
    <Desk
      account={account}
      area="retention"
      keys={keys}
      register={
        <>
          <RetentionShelf what={what} />
          <RegisterOf what={what} id={id} />
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} />
          {asked === 'rule' && <NewRetentionRule />}
          {asked === 'clock' && <NewClock />}
          {asked === 'bound' && (
            <NewNamed
              title="New bound of law"
              path="/api/retention/law"
              link={boundLink}
              most={120}
              placeholder="Bookkeeping Act, § 12"
            >
              What it is about, and how long, is said on its sheet.
            </NewNamed>
          )}
          {asked === 'hold' && (
            <NewNamed
              title="New hold"
              path="/api/retention/holds"
              link={holdLink}
              most={120}
              placeholder="Collision at berth 4"
            >
              It begins as a draft, and holds once it is in force.
            </NewNamed>
          )}
        </>
      }
      soundings={soundingsOf(what, id)}
    />
  );
}

function soundingsOf(what: string | undefined, id: string | undefined) {
  if (what === 'rules' && id) return <RetentionSoundings key={id} id={id} />;
  return what === 'holds' && id ? <HoldSoundings key={id} id={id} /> : undefined;
}

interface Shown {
  readonly what: string | undefined;
  readonly id: string | undefined;
}

function RegisterOf({ what, id }: Shown) {
  switch (what) {
    case 'law':
      return <LawRegister chosen={id} />;
    case 'holds':
      return <HoldRegister chosen={id} />;
    case 'clocks':
      return <ClockRegister chosen={id} />;
    case 'disposals':
      return <DisposalRegister chosen={id} />;
    default:
      return <RetentionRuleRegister chosen={id} />;
  }
}

function SheetOf({ what, id }: Shown) {
  switch (what) {
    case 'schedule':
      return <ScheduleSheet />;
    case 'law':
      return id ? <LawSheet key={id} id={id} /> : <LawOverview />;
    case 'holds':
      return id ? <HoldSheet key={id} id={id} /> : <HoldsOverview />;
    case 'clocks':
      return id ? <ClockSheet key={id} id={id} /> : <RetentionOverview />;
    case 'disposals':
      return id ? <DisposalSheet key={id} id={id} /> : <DisposalsOverview />;
    default:
      return id ? <RetentionRuleSheet key={id} id={id} /> : <RetentionOverview />;
  }
}

function keysOf(account: Account, what: string | undefined): readonly Key[] {
  if (what === 'disposals') return [];
  if (what === 'holds') return may(account, 'retention.hold') ? newKey('New hold', 'hold') : [];
  if (!may(account, 'retention.edit')) return [];
  if (what === 'law') return newKey('New bound of law', 'bound');
  return what === 'clocks' ? newKey('New clock', 'clock') : newKey('New retention rule', 'rule');
}
