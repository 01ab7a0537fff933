import { useStore } from '@nanostores/react';
import { may, type Action } from '../../core/accounts/authority.ts';
import { useAccount } from './account-context.ts';
import { deskState } from './live.ts';
import css from './TopBar.module.css';

export type Area = 'today' | 'websites' | 'holdings' | 'evidence' | 'account';

/** Areas the desk has, in their order, with what somebody must be allowed to see them. */
export const AREAS: readonly { readonly area: Area; readonly name: string; readonly action: Action }[] = [
  { area: 'today', name: 'Today', action: 'today.read' },
  { area: 'websites', name: 'Websites', action: 'websites.read' },
  { area: 'holdings', name: 'Holdings', action: 'holdings.read' },
  { area: 'evidence', name: 'Evidence', action: 'ledger.read' },
];

export function TopBar({ area, onFind }: { readonly area: Area; readonly onFind: () => void }) {
  const account = useAccount();
  const state = useStore(deskState);
  return (
    <header className={css['bar']}>
      <a className={css['name']} href="/today">
        <svg width="20" height="20" viewBox="0 0 24 24" aria-hidden="true">
          <path d="M12 2l10 10-10 10L2 12z" fill="none" stroke="#e8d596" strokeWidth="1.8" />
          <path d="M12 6v12l6-6z" fill="#e8d596" />
        </svg>
        Yare Warden
      </a>
      <nav aria-label="Areas" className={css['areas']}>
        {AREAS.filter((a) => may(account, a.action)).map((a) => (
          <a
            key={a.area}
            href={`/${a.area}`}
            aria-current={a.area === area ? 'page' : undefined}
            className={css['area']}
          >
            {a.name}
            {a.area === 'today' && state !== undefined && state.needsHand > 0 && (
              <span className={css['count']}>
                {state.needsHand}
                <span className="only-read-out"> need a hand</span>
              </span>
            )}
          </a>
        ))}
      </nav>
      <button type="button" className={css['find']} onClick={onFind} aria-label="Find anything, Ctrl K">
        <span>Find anything</span>
        <kbd>Ctrl K</kbd>
      </button>
      <a className={css['account']} href="/account" aria-current={area === 'account' ? 'page' : undefined}>
        {account.name}
      </a>
    </header>
  );
}
