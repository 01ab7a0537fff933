import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { itemObject } from '../../../../../server/holdings/items/item-view.ts';
import { ItemJudgement, judgeItem } from '../../../../../server/holdings/items/judgements.ts';

export const POST = endpoint({
  action: 'holdings.judge',
  input: ItemJudgement.extend({ id: z.coerce.number().int().positive() }),
  object: itemObject,
  run: ({ ctx, account, input: { id, ...judgement } }) => judgeItem(ctx, account, id, judgement),
});
