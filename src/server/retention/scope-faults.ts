import { EVERYONE } from '../../core/accounts/staff/audience.ts';
import { lensFaults } from '../../core/lens/lens-faults.ts';
import type { Refusal } from '../../core/refusal.ts';
import type { RetentionNames } from '../../core/retention/rules/retention-rule.ts';
import type { TermContent } from '../../core/retention/rules/term.ts';
import type { Scope } from '../../core/retention/scope/scope.ts';

type Faults = Refusal['fields'][number][];

/** What a scope names that there is not, or not any more. */
export function scopeFaults(
  { lens, places, of, notOf }: Scope,
  { items, sources, groups }: RetentionNames,
): Faults {
  const faults: Faults = lensFaults(lens, items).map((f) => ({ field: 'lens', message: f.words }));
  for (const place of places) {
    const [source = ''] = place.split('/');
    if (source !== '*' && !sources.some((s) => s.value === source))
      faults.push({ field: 'places', message: `There is no source “${source}” any more.` });
  }
  for (const [field, marks] of [
    ['of', of],
    ['notOf', notOf],
  ] as const)
    for (const mark of marks) {
      if (mark === EVERYONE) continue;
      if (mark.includes(':') ? !groups.some((g) => g.value === mark) : !/^[^\s@]+@[^\s@]+$/.test(mark))
        faults.push({ field, message: `There is no “${mark.replace(/^\w+:/, '')}”.` });
    }
  return faults;
}

export function termFaults({ after }: TermContent, { clocks }: RetentionNames): Faults {
  return after === 'created' || after === 'changed' || clocks.some((c) => c.value === after)
    ? []
    : [{ field: 'after', message: 'What it is counted from is gone: choose another.' }];
}
