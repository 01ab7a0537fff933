import { useStore } from '@nanostores/react';
import { may } from '../../core/accounts/authority.ts';
import { AREAS } from '../areas.ts';
import { useAccount } from './account-context.ts';
import { deskState } from './live.ts';
import css from './TopBar.module.css';

export function TopBar({ area, onFind }: { readonly area: string; readonly onFind: () => void }) {
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
        {AREAS.filter((a) => a.inBar !== false && may(account, a.action)).map((a) => (
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
