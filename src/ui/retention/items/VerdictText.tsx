import { dayText } from '../../../core/text/day.ts';
import type { ItemRetention } from '../../../server/retention/items/item-retention.ts';
import css from '../retention.module.css';

/** The verdict on an item: its answer first, then what decided and what gave way. */
export function VerdictText({ verdict }: { readonly verdict: ItemRetention }) {
  return (
    <>
      <p className={css['answer']} data-state={verdict.state}>
        {answerOf(verdict)}
      </p>
      {verdict.why.map((w) => (
        <p key={w} className={css['note']}>
          {w}
        </p>
      ))}
    </>
  );
}

function answerOf({ state, goes, holds, then }: ItemRetention): string {
  switch (state) {
    case 'held':
      return `Held: ${holds.map((h) => h.name).join(', ')}`;
    case 'due':
      return `◆ May go since ${goes === null ? 'today' : dayText(goes)}`;
    case 'kept':
      return goes === null || then === 'nothing' ? '✓ Kept' : `✓ Kept until ${dayText(goes)}`;
  }
}
