import type { Within } from '../../core/accounts/scope.ts';

/** What is told of the estate is about every source: accounts that are kept to some are told nothing of it. */
export const WHOLE_ESTATE: readonly Within[] = [{ kind: 'source', id: '*' }];
