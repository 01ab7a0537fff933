import { useRef, useState, type ReactNode } from 'react';
import { go } from '../desk/location.ts';
import css from './RegisterList.module.css';

export interface RegisterRow {
  readonly id: string;
  readonly name: string;
  readonly detail: ReactNode;
  readonly tag?: ReactNode;
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
  /** Something of the whole area, below its objects. */
  readonly footer?: { readonly name: string; readonly href: string; readonly chosen: boolean };
}

/** The area's objects, filtered as you type; arrows move through them. */
export function RegisterList({ what, rows, chosen, onChoose, action, empty, footer }: RegisterListProps) {
  const [text, setText] = useState('');
  const list = useRef<HTMLUListElement>(null);
  const shown = rows.filter((r) => `${r.name} ${r.id}`.toLowerCase().includes(text.trim().toLowerCase()));
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
          placeholder={rows.length > 1 ? `Filter ${rows.length} ${what}` : `Filter ${what}`}
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
                <b title={r.name}>{r.name}</b>
                {r.tag}
              </span>
              <span className={css['detail']}>{r.detail}</span>
            </a>
          </li>
        ))}
      </ul>
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
      {rows.length === 0 && <div className={css['none']}>{empty}</div>}
      {rows.length > 0 && shown.length === 0 && (
        <p className={css['none']}>
          None of the {rows.length} is called “{text}”.
        </p>
      )}
    </div>
  );
}
