import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import {
  connectSource,
  ItemError,
  SourceError,
  type Connector,
  type Source,
} from '../../../holdings/offers.ts';

/** Works on a source that is open meanwhile; why it could not be read, where it could not. */
export async function withSource(
  ctx: Context,
  source: Source,
  work: (connector: Connector) => Promise<void>,
): Promise<string | undefined> {
  try {
    const connector = await connectSource(ctx, source);
    try {
      await work(connector);
      return undefined;
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (error instanceof SourceError || error instanceof ItemError || error instanceof RefusedError)
      return error.message;
    throw error;
  }
}
