import { z } from 'zod';
import { writeLine } from '../../../core/evidence/ledger.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { streamed } from '../../../server/http/csv.ts';
import { EXPORTING } from '../../../server/http/shares.ts';
import { exportLedger, record } from '../../../server/evidence/ledger.ts';
import type { Context } from '../../../server/context.ts';

export const GET = endpoint({
  action: 'ledger.export',
  input: z.object({}),
  object: whole('ledger'),
  run: async ({ ctx, account, outgoing }) => {
    outgoing.whenOver(await EXPORTING.begin(account.id));
    await ctx.store.transaction((tx) =>
      record(tx, ctx.now(), {
        actor: account.id,
        action: 'ledger.export',
        object: 'ledger',
        objectId: 0,
        detail: {},
      }),
    );
    return streamed(
      `ledger-${ctx.now().toISOString().slice(0, 10)}.jsonl`,
      'application/x-ndjson; charset=utf-8',
      outgoing,
      lines(ctx),
    );
  },
});

async function* lines(ctx: Context): AsyncGenerator<string> {
  for await (const line of exportLedger(ctx.store, ctx.now())) yield `${writeLine(line)}\n`;
}
