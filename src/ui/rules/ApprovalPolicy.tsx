import { useMay } from '../desk/account-context.ts';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { usePlainObject } from './use-plain-object.ts';

const WORDS = ['nobody else', 'one person who did not write it', 'two people who did not write it'];

/** How many must agree before any rule of a kind is in force. */
export function ApprovalPolicy({ object }: { readonly object: string }) {
  const mayEdit = useMay('approvals.edit');
  const policy = usePlainObject<{ needed: number }>('approval policy', object);
  const { data } = policy.query;
  if (!data) return null;
  const { needed } = data.content;
  return (
    <Sentence label="Agreed">
      by{' '}
      <Slot
        label={`Who must agree before a ${object} is in force`}
        words={WORDS[needed] ?? String(needed)}
        fixed={!mayEdit}
        edit={{
          kind: 'choice',
          options: WORDS.map((words, i) => ({ value: String(i), words })),
          value: String(needed),
          set: (v) =>
            void policy.save(
              { needed: Number(v) },
              `Before a ${object} is in force, ${WORDS[Number(v)]} must agree.`,
            ),
        }}
      />{' '}
      before any {object} is in force
    </Sentence>
  );
}
