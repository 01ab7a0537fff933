import { QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render } from '@testing-library/react';
import { useRef, type ReactNode } from 'react';
import { afterEach, beforeAll, beforeEach, vi } from 'vitest';
import { builtIn } from '../src/core/accounts/roles/held-role.ts';
import type { Account } from '../src/core/accounts/authority.ts';
import { AccountContext } from '../src/ui/desk/account-context.ts';
import { ScrollContext } from '../src/ui/desk/scroll-context.ts';
import { queryClient } from '../src/ui/desk/changed.ts';
import { standInForLayout } from './no-layout.ts';
import { standInForServer, type StandInServer } from './stand-in-server.ts';

export const OFFICER: Account = {
  id: 1,
  email: 'i@x.example',
  name: 'Ines Abara',
  title: '',
  roles: [builtIn('officer')],
};
export const AUDITOR: Account = { ...OFFICER, id: 2, roles: [builtIn('auditor')] };

/** What the sheet of the desk is to tables. */
export function Scrolled({ children }: { readonly children: ReactNode }) {
  const scroll = useRef<HTMLDivElement>(null);
  return (
    <ScrollContext.Provider value={scroll}>
      <div ref={scroll} style={{ height: 600 }}>
        {children}
      </div>
    </ScrollContext.Provider>
  );
}

/** Has a part of the desk shown alone before each test, at a path, with answers in the place of the server. */
export function sheetTest(path: string) {
  let server: StandInServer = { asked: [], answers: {} };
  const reset = () => {
    cleanup();
    queryClient.clear();
  };
  beforeAll(standInForLayout);
  beforeEach(() => {
    server = standInForServer();
    window.history.replaceState(null, '', path);
  });
  afterEach(() => {
    reset();
    vi.unstubAllGlobals();
  });
  return {
    officer: OFFICER,
    get answers() {
      return server.answers;
    },
    /** What was asked but reads. */
    sent: () => server.asked.filter((a) => a.method !== 'GET'),
    refused: (error: string, fields: readonly { readonly field: string; readonly message: string }[]) => ({
      error,
      fields,
    }),
    show: (of: ReactNode, account: Account = OFFICER) =>
      render(
        <QueryClientProvider client={queryClient}>
          <AccountContext.Provider value={account}>{of}</AccountContext.Provider>
        </QueryClientProvider>,
      ),
    /** Takes it away, and forgets what was read. */
    reset,
  };
}
