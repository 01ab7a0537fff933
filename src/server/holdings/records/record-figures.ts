import type { ContradictionKind } from '../../../core/holdings/records/contradictions.ts';
import type { Context } from '../../context.ts';
import { countFigure } from '../../figures/count-figure.ts';
import type { Figure } from '../../figures/figure.ts';
import { count } from '../../figures/count.ts';
import { checkRecords, type CheckedContradiction } from './record-check.ts';

const seen = { good: 'less', see: 'holdings.read', link: '/holdings/records' } as const;
const ACTIVITIES = 'SELECT COUNT(*) AS n FROM activity';

/** Records are held against the estate once for all figures that are counted together. */
const CHECKED_MS = 60_000;
const checked = new WeakMap<
  Context,
  { readonly at: number; readonly found: Promise<readonly CheckedContradiction[]> }
>();

function openContradictions(ctx: Context): Promise<readonly CheckedContradiction[]> {
  const kept = checked.get(ctx);
  const now = Date.now();
  if (kept && now - kept.at < CHECKED_MS) return kept.found;
  const found = checkRecords(ctx).then((all) => all.filter((c) => !c.accepted));
  checked.set(ctx, { at: now, found });
  // What failed is tried again.
  found.catch(() => checked.delete(ctx));
  return found;
}

/** What contradicts the records in these ways, of all activities; nothing where nothing is recorded. */
function contradicted(
  words: Pick<Figure, 'id' | 'name' | 'definition' | 'unit'>,
  kinds: readonly ContradictionKind[],
): Figure {
  return {
    ...seen,
    ...words,
    async value(store, _now, ctx) {
      const activities = await count(store, ACTIVITIES);
      if (activities === 0) return { value: null };
      const found = await openContradictions(ctx);
      return { value: found.filter((c) => kinds.includes(c.kind)).length };
    },
    rows: async (store, _now, ctx) =>
      (await count(store, ACTIVITIES)) === 0
        ? []
        : (await openContradictions(ctx))
            .filter((c) => kinds.includes(c.kind))
            .map((c) => ({
              ...{ key: c.key, name: c.words, n: 1, parts: {} },
              link:
                c.activity === undefined
                  ? c.system === undefined
                    ? seen.link
                    : `/holdings/systems/${c.system}`
                  : `${seen.link}/${c.activity}`,
            })),
  };
}

/** Activities that say nothing of a field, or of any of several; as SQL conditions on their content. */
function silent(words: Pick<Figure, 'id' | 'name' | 'definition'>, condition: string): Figure {
  return countFigure({
    ...seen,
    ...words,
    unit: 'activity',
    counts: `${ACTIVITIES} WHERE ${condition}`,
    of: ACTIVITIES,
    each: { key: 'id', name: 'name', link: ({ key }) => `${seen.link}/${key}` },
  });
}

const empty = (field: string) => `COALESCE(TRIM(JSON_VALUE(content, '$.${field}')), '') = ''`;
const none = (field: string) => `JSON_LENGTH(content, '$.${field}') = 0`;

/** What the records of processing leave unsaid, and what the estate and the law say against them. */
export const RECORD_FIGURES: readonly Figure[] = [
  silent(
    {
      id: 'holdings.records-incomplete',
      name: 'Records that leave something out',
      definition:
        'Activities of the record that lack a purpose, whose data it is, kinds of data, how long they are kept, or measures of protection (Art. 30(1)).',
    },
    [empty('purpose'), none('people'), none('data'), empty('retention'), empty('measures')].join(' OR '),
  ),
  silent(
    {
      id: 'holdings.records-without-purpose',
      name: 'Records without a purpose',
      definition: 'Activities of the record that do not say what they are for.',
    },
    empty('purpose'),
  ),
  silent(
    {
      id: 'holdings.records-without-retention',
      name: 'Records that do not say how long',
      definition: 'Activities of the record that do not say how long data is kept.',
    },
    empty('retention'),
  ),
  silent(
    {
      id: 'holdings.records-without-owner',
      name: 'Records without an owner',
      definition: 'Activities of the record that nobody answers for.',
    },
    empty('owner'),
  ),
  silent(
    {
      id: 'holdings.records-without-review',
      name: 'Records that nobody looks at again',
      definition: 'Activities of the record without a day on which they are looked at again.',
    },
    empty('review'),
  ),
  contradicted(
    {
      id: 'holdings.records-late',
      name: 'Records past their review',
      definition: 'Activities of the record whose day to be looked at again is over.',
      unit: 'activity',
    },
    ['review due'],
  ),
  contradicted(
    {
      id: 'holdings.records-contradicted',
      name: 'What surveys found against the record',
      definition:
        'Contradictions that nobody accepted: systems with personal data that no activity names, and what an activity names and was never found.',
      unit: 'contradiction',
    },
    ['unrecorded', 'never found'],
  ),
  contradicted(
    {
      id: 'holdings.special-unnamed',
      name: 'Special data that no record names',
      definition:
        'Kinds of special categories, offences or children’s data that were found in a system and that no activity there names, where nobody accepted it.',
      unit: 'kind of data in a system',
    },
    ['unnamed'],
  ),
  contradicted(
    {
      id: 'holdings.basis-missing',
      name: 'Records whose basis does not carry them',
      definition:
        'Activities with special categories without a reason of Art. 9(2), with data on offences without a law, or with two bases that cannot stand beside each other.',
      unit: 'contradiction',
    },
    ['basis'],
  ),
  contradicted(
    {
      id: 'holdings.transfers-unsafe',
      name: 'Transfers without a safeguard',
      definition:
        'Recipients in third countries without a decision on adequacy to whom an activity gives data without a safeguard (Art. 44 to 49).',
      unit: 'transfer',
    },
    ['transfer'],
  ),
  contradicted(
    {
      id: 'holdings.records-without-system',
      name: 'Records that name no system',
      definition: 'Activities of the record that do not say in which system they happen.',
      unit: 'activity',
    },
    ['no system'],
  ),
];
