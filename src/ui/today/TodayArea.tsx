import type { Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { useDeskLocation } from '../desk/location.ts';
import { SinceSheet } from './SinceSheet.tsx';
import { TodayRegister } from './TodayRegister.tsx';
import { TodaySheet } from './TodaySheet.tsx';
import { TodaySoundings } from './TodaySoundings.tsx';
import { useVisit, type TodayShow } from './use-today.ts';

const SHOWS: readonly TodayShow[] = ['mine', 'team', 'put off', 'changed'];

/** What needs a hand now, what others have, what can wait, and what changed. */
export function TodayArea({ account }: { readonly account: Account }) {
  const { query } = useDeskLocation();
  const show = SHOWS.find((s) => s === query.get('show')) ?? 'mine';
  return (
    <Desk
      account={account}
      area="today"
      register={<TodayRegister show={show} />}
      sheet={
        <>
          <Visit />
          {show === 'changed' ? <SinceSheet /> : <TodaySheet part={show} />}
        </>
      }
      soundings={<TodaySoundings />}
    />
  );
}

function Visit() {
  useVisit();
  return null;
}
