import { useEffect, useRef, useState, type ReactNode } from 'react';
import { go } from '../desk/location.ts';
import css from './RegisterList.module.css';

export interface RegisterRow {
  readonly id: string;
  readonly name: string;
  readonly detail: ReactNode;
  readonly tag?: ReactNode;
  /** Of its own, shown before the name. */
  readonly colour?: string;
  readonly href: string;
  /** Rows of one group stand together under its name. */
  readonly group?: string;
}

interface RegisterListProps {
  /** What is listed, in the plural. */
  readonly what: string;
  readonly rows: readonly RegisterRow[];
  readonly chosen: string | undefined;
  readonly onChoose: (row: RegisterRow) => void;
  readonly action?: ReactNode;
  readonly empty: ReactNode;
  /** Something of the whole list, below its objects. */
  readonly footer?: { readonly name: string; readonly href: string; readonly chosen: boolean };
  /** Where the server narrows and pages the rows. */
  readonly paged?: Paged;
}

interface Paged {
  readonly text: string;
  readonly onText: (text: string) => void;
  readonly total: number;
  /** Loads the next page; `undefined` where there is none, or one is coming. */
  readonly more: (() => void) | undefined;
}

/** The area's objects, filtered as you type; arrows move through them. */
export function RegisterList({
  what,
  rows,
  chosen,
  onChoose,
  action,
  empty,
  footer,
  paged,
}: RegisterListProps) {
  const [typed, setTyped] = useState('');
  const text = paged?.text ?? typed;
  const setText = paged?.onText ?? setTyped;
  const list = useRef<HTMLUListElement>(null);
  const shown = paged
    ? rows
    : rows.filter((r) => `${r.name} ${r.id}`.toLowerCase().includes(text.trim().toLowerCase()));
  const total = paged && text === '' ? Math.max(paged.total, rows.length) : rows.length;
  const step = (e: React.KeyboardEvent, by: number) => {
    const links = [...(list.current?.querySelectorAll('a') ?? [])];
    const at = links.indexOf(document.activeElement as HTMLAnchorElement);
    links[Math.max(0, Math.min(links.length - 1, at + by))]?.focus();
    e.preventDefault();
  };
  const keys = (e: React.KeyboardEvent) => {
    if (e.key === 'ArrowDown') step(e, 1);
    else if (e.key === 'ArrowUp') step(e, -1);
  };
  return (
    <div className={css['register']} onKeyDown={keys}>
      <div className={css['head']}>
        <input
          type="search"
          data-register-filter
          aria-label={`Filter ${what}`}
          placeholder={total > 1 ? `Filter ${total} ${what}` : `Filter ${what}`}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {action}
      </div>
      <ul ref={list}>
        {shown.map((r, i) => (
          <li key={r.id}>
            {r.group && r.group !== shown[i - 1]?.group && <h2 className={css['group']}>{r.group}</h2>}
            <a
              href={r.href}
              aria-current={r.id === chosen ? 'true' : undefined}
              className={css['row']}
              onClick={(e) => {
                if (e.ctrlKey || e.metaKey || e.shiftKey) return;
                e.preventDefault();
                onChoose(r);
              }}
            >
              <span className={css['line']}>
                <b title={r.name}>
                  {r.colour && (
                    <span className={css['swatch']} style={{ background: r.colour }} aria-hidden />
                  )}
                  {r.name}
                </b>
                {r.tag}
              </span>
              <span className={css['detail']}>{r.detail}</span>
            </a>
          </li>
        ))}
      </ul>
      {paged?.more && <MoreRows onMore={paged.more} left={paged.total - rows.length} />}
      {footer && (
        <a
          href={footer.href}
          aria-current={footer.chosen ? 'true' : undefined}
          className={css['row']}
          onClick={(e) => {
            if (e.ctrlKey || e.metaKey || e.shiftKey) return;
            e.preventDefault();
            go(footer.href);
          }}
        >
          {footer.name}
        </a>
      )}
      {rows.length === 0 && text === '' && <div className={css['none']}>{empty}</div>}
      {text !== '' && shown.length === 0 && (
        <p className={css['none']}>
          {rows.length > 1 ? `None of the ${rows.length}` : 'None'} is called “{text}”.
        </p>
      )}
    </div>
  );
}

/** Asks for more as it comes into view, and where somebody presses it. */
function MoreRows({ onMore, left }: { readonly onMore: () => void; readonly left: number }) {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const seen = new IntersectionObserver(([entry]) => entry?.isIntersecting && onMore());
    if (button.current) seen.observe(button.current);
    return () => seen.disconnect();
  }, [onMore]);
  return (
    <button ref={button} type="button" className={css['more']} onClick={onMore}>
      {left > 0 ? `${left} more` : 'More'}
    </button>
  );
}
