import type { Account } from '../../../core/accounts/authority.ts';
import { stampedLevel } from '../../../core/protection/levels/level-content.ts';
import { filled, UnstampableError } from '../../../core/protection/stamp/marking.ts';
import { dayText } from '../../../core/text/day.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { READING } from '../../http/shares.ts';
import { readRule } from '../../rules/rule-store.ts';
import { stampApart } from '../stamp-thread.ts';
import { LEVEL } from './levels.ts';

/**
 * A copy of a file that somebody sent, stamped with a level as its draft stands; nothing of it is kept. Throws a
 * RefusedError for what carries no marking.
 */
export async function tryLevel(
  ctx: Context,
  account: Account,
  id: string,
  upload: number,
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
  const { content } = await readRule(ctx.store, LEVEL, id);
  return READING.use(account.id, async () => {
    const { name: file, bytes } = await readUpload(ctx, account.id, upload);
    const { name, marking } = stampedLevel(id, content);
    const values = {
      level: name,
      owner: account.name,
      date: dayText(ctx.now().toISOString().slice(0, 10)),
      file,
    };
    try {
      return {
        name: file,
        bytes: await stampApart({ bytes, marking: filled(marking, values), level: { id, name } }),
      };
    } catch (error) {
      if (!(error instanceof UnstampableError)) throw error;
      throw new RefusedError('This file cannot be stamped; it is as it was.', [
        { field: 'upload', message: error.message },
      ]);
    } finally {
      await dropUpload(ctx.store, upload);
    }
  });
}
