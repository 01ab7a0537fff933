import { numberWords } from '../desk/words.ts';
import { go } from '../desk/location.ts';
import css from './Shelf.module.css';

/** A kind of object that an area has. */
export interface ShelfEntry {
  readonly name: string;
  /** How many there are, where that is known. */
  readonly count: number | undefined;
  readonly href: string;
  readonly chosen: boolean;
}

/** The kinds of object in an area, at the head of its Register; the one chosen fills the list below. */
export function Shelf({ entries }: { readonly entries: readonly ShelfEntry[] }) {
  return (
    <nav aria-label="Shelf" className={css['shelf']}>
      {entries.map((e) => (
        <a
          key={e.href}
          href={e.href}
          aria-current={e.chosen ? 'true' : undefined}
          onClick={(event) => {
            if (event.ctrlKey || event.metaKey || event.shiftKey) return;
            event.preventDefault();
            go(e.href);
          }}
        >
          <span>{e.name}</span>{' '}
          <span className={css['count']}>{e.count === undefined ? '' : numberWords(e.count)}</span>
        </a>
      ))}
    </nav>
  );
}
