import type { AssessmentContent } from '../../../core/obligations/work/assessment-content.ts';
import { useMay } from '../../desk/account-context.ts';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { useAssessableSystems } from '../use-obligations.ts';

/** What of the organisation an assessment is about. */
export function AssessmentScopeLine({ id }: { readonly id: number }) {
  const mayEdit = useMay('obligations.edit');
  const { query, save } = usePlainObject<AssessmentContent>('assessment', id);
  const systems = useAssessableSystems();
  const content = query.data?.content;
  if (!content || !systems.data) return null;
  const { scope } = content;
  const set = (change: Partial<AssessmentContent['scope']>) =>
    void save({ ...content, scope: { ...scope, ...change } }, 'Saved.');
  const text = (label: string, key: 'units' | 'providers', none: string) => (
    <Slot
      label={label}
      words={scope[key] || none}
      fixed={!mayEdit}
      edit={{ kind: 'text', most: 400, value: scope[key], set: (words) => set({ [key]: words }) }}
    />
  );
  const named = scope.systems.map((s) => systems.data.find((x) => x.id === s)?.name ?? 'one that is gone');
  return (
    <Sentence label="About">
      {text('Units', 'units', 'all units')}, with{' '}
      <Slot
        label="Systems"
        words={named.length === 0 ? 'all systems' : named.join(', ')}
        fixed={!mayEdit}
        edit={{
          kind: 'many',
          value: scope.systems.map(String),
          options: systems.data.map((s) => ({ value: String(s.id), words: s.name })),
          set: (ids) => set({ systems: ids.map(Number) }),
        }}
      />{' '}
      and {text('Providers', 'providers', 'all providers')}
    </Sentence>
  );
}
