import css from './Tabs.module.css';

export interface Tab<T extends string> {
  readonly id: T;
  readonly name: string;
  readonly count?: number | undefined;
}

interface TabsProps<T extends string> {
  readonly label: string;
  readonly tabs: readonly Tab<T>[];
  readonly chosen: T;
  readonly onChoose: (id: T) => void;
}

/** Arrows move between tabs; the chosen one is where Tab stops. The panel has the id `tabpanel`. */
export function Tabs<T extends string>({ label, tabs, chosen, onChoose }: TabsProps<T>) {
  const move = (by: number) => {
    const next = tabs[(tabs.findIndex((t) => t.id === chosen) + by + tabs.length) % tabs.length];
    if (!next) return;
    onChoose(next.id);
    document.getElementById(`tab-${next.id}`)?.focus();
  };
  return (
    <div role="tablist" aria-label={label} className={css['tabs']}>
      {tabs.map((t) => (
        <button
          key={t.id}
          id={`tab-${t.id}`}
          type="button"
          role="tab"
          aria-selected={t.id === chosen}
          aria-controls={t.id === chosen ? 'tabpanel' : undefined}
          tabIndex={t.id === chosen ? 0 : -1}
          className={css['tab']}
          onClick={() => onChoose(t.id)}
          onKeyDown={(e) => {
            if (e.key === 'ArrowRight') move(1);
            else if (e.key === 'ArrowLeft') move(-1);
            else return;
            e.preventDefault();
          }}
        >
          {t.name}
          {t.count !== undefined && ` ${t.count}`}
        </button>
      ))}
    </div>
  );
}
