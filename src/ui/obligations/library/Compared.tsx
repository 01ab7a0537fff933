import type { Control } from '../../../core/obligations/framework/framework.ts';
import type { FrameworkView } from '../../../server/obligations/library/library-view.ts';
import { setQuery } from '../../desk/location.ts';
import { Segments } from '../../parts/Segments.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import css from '../obligations.module.css';

/** How far a control is answered by what is done already, or by what another framework asks. */
export type Covered = 'whole' | 'part' | 'new';

export const COVERED: Readonly<Record<Covered, string>> = { whole: '✓', part: '◐', new: '○' };

/** By the measures of the framework it is held beside; without one, by what gives its share somewhere now. */
export function coverage({ done, other }: FrameworkView): (control: Control) => Covered {
  const has = new Set(other ? other.measures : done);
  return ({ measures }) => {
    const n = measures.filter((m) => has.has(m)).length;
    return n === measures.length ? 'whole' : n > 0 ? 'part' : 'new';
  };
}

const DONE = '';

/** What of a framework is covered already, and what is new; beside what is done, or beside another. */
export function Compared({
  view,
  covered,
  shown,
  onShow,
}: {
  readonly view: FrameworkView;
  readonly covered: (control: Control) => Covered;
  readonly shown: Covered | 'all';
  readonly onShow: (shown: Covered | 'all') => void;
}) {
  const { controls } = view.framework;
  const n = (of: Covered) => controls.filter((c) => covered(c) === of).length;
  return (
    <div className={css['filters']}>
      <span aria-hidden>Compared with</span>
      <SelectField
        label="Compare with"
        value={view.other?.id ?? DONE}
        options={[
          { value: DONE, words: 'what we already do' },
          ...view.beside.map((b) => ({ value: b.id, words: b.name })),
        ]}
        onChange={(id) => setQuery({ beside: id === DONE ? null : id })}
      />
      <Segments
        label="Controls"
        options={[
          { value: 'all', words: 'All', count: controls.length },
          { value: 'whole', words: '✓ Covered', count: n('whole') },
          { value: 'part', words: '◐ In part', count: n('part') },
          { value: 'new', words: '○ New', count: n('new') },
        ]}
        value={shown}
        onChange={(value) => onShow(value as Covered | 'all')}
      />
    </div>
  );
}
