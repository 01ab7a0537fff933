import type { Stage } from '../src/core/rules/rule.ts';
import type { RuleKind } from '../src/server/rules/rule-kind.ts';
import { toDatetime } from '../src/server/store/columns.ts';
import type { Queries } from '../src/server/store/pool.ts';

/** Puts a rule that was added, and its versions, where years of work would have left it. */
export async function placeRule<T>(
  tx: Queries,
  { object }: Pick<RuleKind<T>, 'object'>,
  key: string | number,
  place: {
    readonly content?: T;
    readonly stage: Stage;
    readonly versions: number;
    readonly editedAt: Date;
    readonly editedBy: number;
  },
): Promise<void> {
  await tx.run(
    'UPDATE rule SET content = COALESCE(?, content), stage = ?, last_version = ?, edited_by = ?, edited_at = ? WHERE kind = ? AND id = ?',
    [
      place.content === undefined ? null : JSON.stringify(place.content),
      JSON.stringify(place.stage),
      place.versions,
      place.editedBy,
      toDatetime(place.editedAt),
      object,
      String(key),
    ],
  );
}
