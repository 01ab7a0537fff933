import { createContext, useContext } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import type { Action } from '../../core/accounts/action.ts';

export const AccountContext = createContext<Account | undefined>(undefined);

export function useAccount(): Account {
  const account = useContext(AccountContext);
  if (!account) throw new Error('useAccount outside a desk');
  return account;
}

/** Whether to offer something; the server asks again. */
export function useMay(action: Action): boolean {
  return may(useAccount(), action);
}
