import { isMailKind } from './search/mail-search.ts';
import { z } from 'zod';
import { RequestPolicy, requestPolicyVocabulary } from '../../../core/cases/requests/request-policy.ts';
import { notFound } from '../../../core/refusal.ts';
import { sourceNames } from '../../holdings/offers.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const KEY = 1;

/** How requests are handled; there is one. */
export const REQUEST_POLICY: PlainKind<RequestPolicy> = {
  object: 'request policy',
  content: RequestPolicy,
  vocabulary: () => Promise.resolve(requestPolicyVocabulary()),
  read: async (store, key, lock) => {
    if (Number(key) !== KEY) throw notFound('request policy');
    return readRequestPolicy(store, lock);
  },
  write: async (tx, _key, content) => {
    await tx.run('UPDATE request_policy SET content = ? WHERE id = ?', [JSON.stringify(content), KEY]);
  },
};

export async function readRequestPolicy(store: Queries, lock = false): Promise<RequestPolicy> {
  const row = await store.one(
    z.object({ content: JsonColumn(RequestPolicy) }),
    `SELECT content FROM request_policy WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [KEY],
  );
  if (!row) throw notFound('request policy');
  return row.content;
}

/** Sources that people can write to. */
export async function mailboxOptions(
  store: Queries,
): Promise<readonly { readonly id: string; readonly name: string }[]> {
  return (await sourceNames(store)).filter((s) => isMailKind(s.kind)).map(({ id, name }) => ({ id, name }));
}
