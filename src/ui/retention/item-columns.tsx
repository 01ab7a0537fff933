import type { Column } from '../parts/DataTable.tsx';
import css from './retention.module.css';

/** A text that is cut where there is no room, and told whole when it is pointed at. */
export function CutText({ text }: { readonly text: string }) {
  return (
    <span className={css['cut']} title={text}>
      {text}
    </span>
  );
}

/** What an item is called, and where it lies. */
export function itemColumns<
  R extends { readonly name: string; readonly place: string },
>(): readonly Column<R>[] {
  return [
    { key: 'name', title: 'Item', fills: true, cell: (i) => <CutText text={i.name} /> },
    { key: 'place', title: 'Where', width: '180px', optional: true, cell: (i) => <CutText text={i.place} /> },
  ];
}
