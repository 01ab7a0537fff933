import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import {
  beginChange,
  dropChange,
  tryChangeAgain,
  undoChange,
} from '../../../../../server/access/change/access-changes.ts';
import { RowId } from '../../../../../server/access/inputs.ts';

/** Begins a draft, tries again what failed, makes what takes it back, or lets a draft go. */
export const POST = endpoint({
  action: 'access.change',
  input: z.object({ id: RowId, act: z.enum(['begin', 'again', 'undo', 'drop']) }),
  object: whole('estate'),
  run: async ({ ctx, account, input: { id, act } }) => {
    if (act === 'undo') return { id: await undoChange(ctx, account.id, id) };
    if (act === 'begin') await beginChange(ctx, account.id, id);
    else if (act === 'again') await tryChangeAgain(ctx, account.id, id);
    else await dropChange(ctx, account.id, id);
    return { id };
  },
});
