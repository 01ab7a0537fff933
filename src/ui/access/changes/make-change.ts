import type * as changesApi from '../../../pages/api/access/changes/index.ts';
import type { ChangeWish } from '../../../server/access/index/change-answers.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { changeLink } from '../links.ts';

/** Keeps a change as a draft, and goes to where it is rehearsed. */
export async function makeChange(wish: ChangeWish, reason = ''): Promise<void> {
  try {
    const { id } = await request<AnswerOf<typeof changesApi.POST>>('POST', '/api/access/changes', {
      wish,
      reason,
    });
    go(changeLink(id));
  } catch (error) {
    tellFailure(error);
  }
}
