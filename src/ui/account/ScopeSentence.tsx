import { useQuery } from '@tanstack/react-query';
import type * as accountsScopesApi from '../../pages/api/accounts/scopes.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { Scope } from '../../core/accounts/scope.ts';
import { useMay } from '../desk/account-context.ts';
import { request } from '../desk/request.ts';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { usePlainObject } from '../rules/use-plain-object.ts';

/** Of what an account looks after: all, or these alone. */
export function ScopeSentence({ id, name }: { readonly id: number; readonly name: string }) {
  const mayEdit = useMay('accounts.edit');
  const scope = usePlainObject<Scope>('account scope', id);
  const choices = useQuery({
    queryKey: ['scope-options'],
    queryFn: () => request<AnswerOf<typeof accountsScopesApi.GET>>('GET', '/api/accounts/scopes'),
  });
  if (scope.query.isError)
    return <Failure error={scope.query.error} onRetry={() => void scope.query.refetch()} />;
  if (!scope.query.data || !choices.data) return <Loading what="what they look after" />;
  const { content } = scope.query.data;
  return choices.data.map(({ kind, words, options }) => {
    const ids = content[kind];
    const chosen = options.filter((o) => ids?.includes(o.id));
    const set = (next: readonly string[]) => {
      const { [kind]: _before, ...rest } = content;
      const all = next.includes(ALL) && ids !== undefined;
      const kept = next.filter((v) => v !== ALL);
      void scope.save(
        all ? rest : { ...rest, [kind]: kept },
        all
          ? `${name} looks after all ${words}.`
          : `${name} looks after ${kept.length} of ${options.length} ${words}.`,
      );
    };
    return (
      <Sentence key={kind} label="Sees">
        {words}{' '}
        <Slot
          label={`Which ${words}`}
          words={
            ids === undefined ? 'all' : chosen.length === 0 ? 'none' : chosen.map((o) => o.words).join(', ')
          }
          fixed={!mayEdit}
          edit={{
            kind: 'many',
            value: ids === undefined ? [ALL] : chosen.map((o) => o.id),
            options: [
              { value: ALL, words: `All ${words}, also new ones` },
              ...options.map((o) => ({ value: o.id, words: o.words })),
            ],
            set,
          }}
        />
      </Sentence>
    );
  });
}

const ALL = '*';
