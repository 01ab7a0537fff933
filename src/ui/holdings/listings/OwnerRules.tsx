import { OWNED_BY, type OwnerRule } from '../../../core/holdings/listings/listing.ts';
import { Button } from '../../parts/Button.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { useSystems } from '../sources/use-sources.ts';
import css from '../estate.module.css';

/** To which system a store belongs, and so who answers for it: the first that matches says so. */
export function OwnerRules({
  owners,
  fixed,
  onSet,
}: {
  readonly owners: readonly OwnerRule[];
  readonly fixed: boolean;
  readonly onSet: (owners: OwnerRule[]) => void;
}) {
  const systems = useSystems();
  const all = systems.data?.rows ?? [];
  const change = (i: number, with_: Partial<OwnerRule>) =>
    onSet(owners.map((o, at) => (at === i ? { ...o, ...with_ } : o)));
  const first = all[0];
  return (
    <Sentence label="Whose">
      {owners.map((o, i) => (
        <span key={i} className={css['line']}>
          a store whose{' '}
          <Slot
            label="What is matched"
            words={OWNED_BY[o.of]}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: o.of,
              options: Object.entries(OWNED_BY).map(([value, words]) => ({ value, words })),
              set: (of) => change(i, { of: of as OwnerRule['of'] }),
            }}
          />{' '}
          is like{' '}
          <Slot
            label="What it has to be like"
            words={o.like}
            code
            fixed={fixed}
            edit={{
              kind: 'text',
              most: 120,
              value: o.like,
              hint: '* stands for any letters, as in port-*.',
              check: (text) => (text.trim() === '' ? 'Type what it has to be like.' : ''),
              set: (like) => change(i, { like }),
            }}
          />{' '}
          belongs to{' '}
          <Slot
            label="The system"
            words={all.find((s) => s.id === o.system)?.name ?? '…'}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: String(o.system),
              options: all.map((s) => ({
                value: String(s.id),
                words: s.name,
                detail: s.steward ?? 'no steward',
              })),
              set: (system) => change(i, { system: Number(system) }),
            }}
          />
          {!fixed && (
            <button
              type="button"
              className={css['takeOut']}
              aria-label={`Take out: ${OWNED_BY[o.of]} like ${o.like}`}
              onClick={() => onSet(owners.filter((_, at) => at !== i))}
            >
              ×
            </button>
          )}
        </span>
      ))}
      {owners.length === 0 ? 'No store belongs to a system by itself. ' : 'Others belong to none. '}
      {!fixed && first && (
        <Button
          kind="quiet"
          onClick={() => onSet([...owners, { of: 'name', like: 'name-*', system: first.id }])}
        >
          Add one
        </Button>
      )}
    </Sentence>
  );
}
