import { withoutPersonal } from '../../../core/retention/disposal/anonymous-text.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import {
  decodeText,
  encodeText,
  FixedItemError,
  ItemError,
  tryDetectors,
  type Connector,
  type Fetched,
} from '../../holdings/offers.ts';

/** What stands in a text takes no more than this for detectors to come to an end with it. */
const ROUNDS = 3;

export interface Anonymous {
  readonly bytes: Uint8Array;
  /** How, as a certificate says it. */
  readonly method: string;
}

/**
 * An item without what is personal in it: columns emptied where its source names them, else every value that a detector
 * finds in a text, until none finds any. Throws an ItemError; a FixedItemError for what has another form than its text.
 */
export async function anonymousBytes(
  ctx: Context,
  connector: Connector,
  place: string,
  { listed, bytes, format }: Fetched,
): Promise<Anonymous> {
  const blank = await connector.blank?.(place, listed, bytes);
  if (blank) return { bytes: blank, method: 'columns emptied' };
  const was = decodeText(bytes);
  let [text, values] = [was.text, 0];
  for (let round = 0; ; round++) {
    const encoded = encodeText(text, was);
    if (!encoded)
      throw new FixedItemError(`its text is in ${was.encoding}, in which it cannot be written back`);
    const found = await personalIn(ctx, format, encoded, text);
    if (found.length === 0)
      return {
        bytes: encoded,
        method:
          values === 0
            ? 'nothing personal was found'
            : `${values} ${values === 1 ? 'value' : 'values'} taken out`,
      };
    if (round === ROUNDS)
      throw new ItemError('something personal is still found in it after it was taken out');
    const without = withoutPersonal(text, found);
    text = without.text;
    values += without.values;
  }
}

async function personalIn(ctx: Context, name: string, bytes: Buffer, text: string) {
  try {
    const trial = await tryDetectors(ctx, { name, bytes }, undefined);
    if (trial.cut) throw new FixedItemError('it is too long to be made anonymous');
    // Only where what is read is what is written can a stretch be taken out of it.
    if (trial.text !== text || !/^(?:plain text|CSV)$/.test(trial.kind))
      throw new FixedItemError('only plain text and tables can be made anonymous');
    return trial.findings
      .filter((f) => f.masked !== '' && f.rehearsed === undefined)
      .map((f) => ({ start: f.start, end: f.end, what: f.detector }));
  } catch (error) {
    if (error instanceof RefusedError) throw new ItemError(error.message);
    throw error;
  }
}
