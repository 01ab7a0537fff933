import { useMemo, useState } from 'react';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { OperationView } from './OperationView.tsx';
import { useInterface, type Operation } from './use-interface.ts';
import css from './interface.module.css';

/** All that a program can ask of the desk, to be read and tried. */
export function InterfaceSheet() {
  const { query } = useDeskLocation();
  const told = useInterface();
  const [text, setText] = useState('');
  const groups = useMemo(() => grouped(told.data?.operations ?? [], text), [told.data, text]);
  if (told.isError) return <Failure error={told.error} onRetry={() => void told.refetch()} />;
  if (!told.data) return <Loading what="the interface" />;
  const { operations, schemas } = told.data;
  const open = operations.find((o) => o.id === query.get('operation'));
  return (
    <>
      <SheetHead
        title="Interface"
        detail={`${countWords(operations.length, 'operation')}: what the desk does, a program with a token does as well`}
        actions={
          <a href="/api/openapi.json" download="yare-warden.openapi.json">
            OpenAPI 3.1
          </a>
        }
      />
      {open && <OperationView key={open.id} operation={open} schemas={schemas} />}
      <input
        type="search"
        aria-label="Filter operations"
        className={css['filter']}
        placeholder="Filter by words or path"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {groups.length === 0 && (
        <Empty title="Nothing is called that">Try a word of the path, such as sweeps.</Empty>
      )}
      {groups.map(([area, list]) => (
        <section key={area} aria-label={area} className={css['area']}>
          <h2>{area}</h2>
          <ul className={css['operations']}>
            {list.map((o) => (
              <li key={o.id}>
                <button
                  type="button"
                  aria-current={o.id === open?.id || undefined}
                  onClick={() => {
                    setQuery({ operation: o.id }, 'push');
                    document.querySelector('main')?.scrollTo({ top: 0 });
                  }}
                >
                  <b>{o.method}</b> <code>{o.path}</code>
                </button>
                <span>{o.summary}</span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </>
  );
}

function grouped(
  operations: readonly Operation[],
  text: string,
): readonly (readonly [string, readonly Operation[]])[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const groups = new Map<string, Operation[]>();
  for (const o of operations) {
    const all = `${o.method} ${o.path} ${o.summary} ${o.needs ?? ''}`.toLowerCase();
    if (!words.every((w) => all.includes(w))) continue;
    const group = groups.get(o.area) ?? [];
    groups.set(o.area, group);
    group.push(o);
  }
  return [...groups];
}
