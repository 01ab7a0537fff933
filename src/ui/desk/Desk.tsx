import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { QueryClientProvider } from '@tanstack/react-query';
import type { Account } from '../../core/accounts/authority.ts';
import { AccountContext } from './account-context.ts';
import { queryClient } from './changed.ts';
import { Find } from './Find.tsx';
import { KeysHelp } from './KeysHelp.tsx';
import { useKeys, type Key } from './keys.ts';
import { startLive } from './live.ts';
import { tellOtherSessions } from './other-sessions.ts';
import { useRemembered } from './preferences.ts';
import { ScrollContext } from './scroll-context.ts';
import { Strip } from './Strip.tsx';
import { Toasts } from './Toasts.tsx';
import { TopBar } from './TopBar.tsx';
import css from './Desk.module.css';

interface DeskProps {
  readonly account: Account;
  /** Of the top bar; another is none of its areas. */
  readonly area: string;
  readonly register?: ReactNode;
  readonly sheet: ReactNode;
  readonly soundings?: ReactNode;
  /** Keys of this area, besides the desk's own. */
  readonly keys?: readonly Key[];
}

const NO_KEYS: readonly Key[] = [];

/** Register, Sheet and Soundings below the top bar and above the strip: the layout of every area. */
export function Desk({ account, area, register, sheet, soundings, keys = NO_KEYS }: DeskProps) {
  return (
    <QueryClientProvider client={queryClient}>
      <AccountContext.Provider value={account}>
        <DeskFrame {...{ area, register, sheet, soundings, keys }} />
      </AccountContext.Provider>
    </QueryClientProvider>
  );
}

function DeskFrame({ area, register, sheet, soundings, keys = NO_KEYS }: Omit<DeskProps, 'account'>) {
  const [left, setLeft] = useRemembered('register', { width: 264, folded: false });
  const [right, setRight] = useRemembered('soundings', { width: 312, folded: false });
  const [open, setOpen] = useState<'find' | 'keys' | undefined>();
  const scroll = useRef<HTMLElement>(null);
  useEffect(startLive, []);
  useEffect(tellOtherSessions, []);
  const all = useMemo<readonly Key[]>(
    () => [
      { press: 'Ctrl K', does: 'Find anything', act: () => setOpen('find') },
      { press: '?', does: 'Show these keys', act: () => setOpen('keys') },
      {
        press: '/',
        does: 'Filter the register',
        act: () => document.querySelector<HTMLElement>('[data-register-filter]')?.focus(),
      },
      {
        press: '[',
        does: 'Fold or open the register',
        act: () => setLeft({ ...left, folded: !left.folded }),
      },
      {
        press: ']',
        does: 'Fold or open the soundings',
        act: () => setRight({ ...right, folded: !right.folded }),
      },
      ...keys,
    ],
    [keys, left, right, setLeft, setRight],
  );
  useKeys(all);
  return (
    <div className={css['desk']}>
      <a className={css['skip']} href="#sheet">
        Skip to the sheet
      </a>
      <TopBar area={area} onFind={() => setOpen('find')} />
      <div className={css['panes']}>
        {register && (
          <Pane label="Register" name="register" side="left" {...left} onChange={setLeft}>
            {register}
          </Pane>
        )}
        <main id="sheet" className={css['sheet']} ref={scroll} tabIndex={-1}>
          <ScrollContext.Provider value={scroll}>{sheet}</ScrollContext.Provider>
        </main>
        {soundings && (
          <Pane label="Soundings" name="soundings" side="right" {...right} onChange={setRight}>
            {soundings}
          </Pane>
        )}
      </div>
      <Strip />
      <Toasts />
      {open === 'find' && <Find onClose={() => setOpen(undefined)} />}
      {open === 'keys' && <KeysHelp area={area} keys={all} onClose={() => setOpen(undefined)} />}
    </div>
  );
}

interface PaneProps {
  readonly label: string;
  readonly name: string;
  readonly side: 'left' | 'right';
  readonly width: number;
  readonly folded: boolean;
  readonly onChange: (value: { width: number; folded: boolean }) => void;
  readonly children: ReactNode;
}

const LEAST = 200;
const MOST = 480;

function Pane({ label, name, side, width, folded, onChange, children }: PaneProps) {
  const resize = (by: number) => onChange({ width: Math.min(MOST, Math.max(LEAST, width + by)), folded });
  const drag = (event: React.PointerEvent<HTMLElement>) => {
    const from = event.clientX;
    const handle = event.currentTarget;
    handle.setPointerCapture(event.pointerId);
    const move = (e: PointerEvent) =>
      onChange({
        width: Math.min(
          MOST,
          Math.max(LEAST, width + (side === 'left' ? e.clientX - from : from - e.clientX)),
        ),
        folded,
      });
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), {
      once: true,
    });
  };
  if (folded)
    return (
      <aside className={css['folded']} data-side={side} aria-label={label}>
        <button
          type="button"
          className={css['unfold']}
          aria-expanded={false}
          onClick={() => onChange({ width, folded: false })}
        >
          {label}
        </button>
      </aside>
    );
  const handle = (
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label={`Width of the ${name}`}
      aria-valuenow={width}
      aria-valuemin={LEAST}
      aria-valuemax={MOST}
      tabIndex={0}
      className={css['handle']}
      onPointerDown={drag}
      onDoubleClick={() => onChange({ width, folded: true })}
      onKeyDown={(e) => {
        const toward = side === 'left' ? 1 : -1;
        if (e.key === 'ArrowRight') resize(16 * toward);
        else if (e.key === 'ArrowLeft') resize(-16 * toward);
        else if (e.key === 'Enter') onChange({ width, folded: true });
        else return;
        e.preventDefault();
      }}
    />
  );
  return (
    <aside className={css['pane']} data-side={side} style={{ width }} aria-label={label}>
      {side === 'right' && handle}
      <div className={css['paneBody']} data-pane={name} tabIndex={-1}>
        {children}
      </div>
      {side === 'left' && handle}
    </aside>
  );
}
