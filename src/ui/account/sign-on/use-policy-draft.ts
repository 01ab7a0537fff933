import { useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { useStore } from '@nanostores/react';
import { atom } from 'nanostores';
import { useState } from 'react';
import type { SignInPolicy } from '../../../core/accounts/sign-in/policy.ts';
import type { PlainObject } from '../../../server/rules/plain-object.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';

const PATH = '/api/objects/sign-in%20policy/desk';

export interface PolicyDraft {
  readonly query: UseQueryResult<PlainObject<SignInPolicy>>;
  /** As it reads now, with what was changed. */
  readonly content: SignInPolicy | undefined;
  readonly isChanged: boolean;
  readonly isSaving: boolean;
  readonly refused: string;
  readonly set: (content: SignInPolicy | undefined) => void;
  readonly save: () => Promise<void>;
}

/** What was changed and is not asked yet; of the sheet, and of what it would come to beside it. */
const $edited = atom<
  { readonly content: SignInPolicy; readonly base: PlainObject<SignInPolicy> } | undefined
>();

/** What signing in asks, changed here first, so that what it would come to is seen before anybody is asked for it. */
export function usePolicyDraft(): PolicyDraft {
  const { query } = usePlainObject<SignInPolicy>('sign-in policy', 'desk');
  const client = useQueryClient();
  const edited = useStore($edited);
  const [refused, setRefused] = useState('');
  const [isSaving, setSaving] = useState(false);
  const set = (content: SignInPolicy | undefined) => {
    setRefused('');
    const base = edited?.base ?? query.data;
    const isSame = JSON.stringify(content) === JSON.stringify(base?.content);
    $edited.set(content && base && !isSame ? { content, base } : undefined);
  };
  const save = async () => {
    if (!edited) return;
    setSaving(true);
    setRefused('');
    try {
      const { content, base } = edited;
      const { revision } = await request<{ revision: number }>('PUT', PATH, {
        ...{ content, base: base.content, revision: base.revision },
      });
      $edited.set(undefined);
      tell('It is asked from now on; sessions that began otherwise are over.', {
        undo: async () => {
          await request('POST', `${PATH}/undo`, { revision }).then(() => tell('Taken back.'), tellFailure);
        },
      });
      await client.invalidateQueries({ queryKey: ['sign-in policy'] });
    } catch (e) {
      if (!(e instanceof RequestError)) throw e;
      setRefused([e.message, e.field('content')].filter(Boolean).join(' '));
    } finally {
      setSaving(false);
    }
  };
  return {
    ...{ query, isSaving, refused, set, save },
    content: edited?.content ?? query.data?.content,
    isChanged: edited !== undefined,
  };
}
