import { useMay } from '../../desk/account-context.ts';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { useRoles } from './use-roles.ts';

/** The roles that somebody holds; what they allow adds up. */
export function RolesSentence({ id, name }: { readonly id: number; readonly name: string }) {
  const mayEdit = useMay('accounts.edit');
  const held = usePlainObject<{ readonly roles: readonly string[] }>('account roles', id);
  const roles = useRoles();
  if (held.query.isError)
    return <Failure error={held.query.error} onRetry={() => void held.query.refetch()} />;
  if (!held.query.data || !roles.data) return <Loading what="their roles" />;
  const { roles: ids } = held.query.data.content;
  const all = roles.data.roles;
  const words = (of: readonly string[]) =>
    all.flatMap((r) => (of.includes(r.id) ? [r.name] : [])).join(', ') || 'no role';
  return (
    <Sentence label="Holds">
      <Slot
        label="Roles"
        words={words(ids)}
        fixed={!mayEdit}
        edit={{
          kind: 'many',
          value: ids,
          options: all
            .filter((r) => r.state === 'in force' || ids.includes(r.id))
            .map((r) => ({ value: r.id, words: r.name, detail: `${r.allows} permissions` })),
          set: (next) => void held.save({ roles: next.toSorted() }, `${name} holds ${words(next)} now.`),
        }}
      />
    </Sentence>
  );
}
