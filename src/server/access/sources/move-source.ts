import type { AccessAddress } from '../../../core/access/sources/access-source.ts';
import { takesAccessSecret } from '../../../core/access/sources/access-source.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { openText, sealText } from '../../secret.ts';
import { findAccessSource, haveReadSoon } from './access-sources.ts';
import { trySource } from './try-source.ts';

export interface Move {
  readonly address: AccessAddress;
  /** Without one, the one that is kept stays, as long as it is told to nobody new. */
  readonly secret?: string | undefined;
  /** Of an estate file: the upload that holds the newer one. */
  readonly upload?: number | undefined;
}

/** Has a source read elsewhere, with another token, or from a newer file, once that was tried. Throws a RefusedError. */
export async function moveAccessSource(
  ctx: Context,
  by: number,
  id: number,
  { address, secret, upload }: Move,
): Promise<void> {
  const { content, address: before, secret: sealed } = await findAccessSource(ctx.store, id);
  // What is read in another way is not the same source.
  if (before.kind !== address.kind)
    throw new RefusedError('It is of another kind.', [
      { field: 'address.kind', message: 'Take it in as a new source.' },
    ]);
  const isElsewhere = serverOf(before) !== serverOf(address);
  if (takesAccessSecret(address.kind) && secret === undefined && isElsewhere)
    throw new RefusedError('What opens it is told to no other server.', [
      { field: 'secret', message: 'Give it anew for this address.' },
    ]);
  const kept = sealed === null ? '' : openText(ctx.settings.SECRET_KEY, sealed);
  const file = await trySource(ctx, by, { content, address, secret: secret ?? kept, upload });
  await ctx.store.transaction(async (tx) => {
    const source = await findAccessSource(tx, id, true);
    const { name: _name, ...rest } = source.content;
    await tx.run(
      'UPDATE access_source SET content = ?, secret = ?, upload = COALESCE(?, upload) WHERE id = ?',
      [
        JSON.stringify({ ...rest, address }),
        secret === undefined || !takesAccessSecret(address.kind)
          ? source.secret
          : sealText(ctx.settings.SECRET_KEY, secret),
        ...[file ?? null, id],
      ],
    );
    await haveReadSoon(tx, id);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'access-source.move', object: 'access source', objectId: id },
      detail: { before, after: address, secret: secret === undefined ? 'kept' : 'changed' },
    });
  });
}

function serverOf(address: AccessAddress): string {
  return 'url' in address ? new URL(address.url).origin : '';
}
