import { GOES_ON, stampedLevel, type LevelContent } from '../../../core/protection/levels/level-content.ts';
import { filled, UnstampableError } from '../../../core/protection/stamp/marking.ts';
import {
  carrierOf,
  readFileLevel,
  stampFile,
  unstampFile,
} from '../../../core/protection/stamp/stamp-file.ts';
import { dayText } from '../../../core/text/day.ts';
import { type ItemDetail } from '../../holdings/offers.ts';
import { wideFont } from '../../files/wide-font.ts';

/** Why a level does not stand on a document of this kind; `undefined` where it does. */
export function doesNotGo(
  carrier: ReturnType<typeof carrierOf>,
  { name, goesOn }: LevelContent,
): string | undefined {
  return goesOn.includes(carrier) ? undefined : `${name} does not go on ${GOES_ON[carrier]}.`;
}

/**
 * The bytes of a document with the marking of a level, or without any. Throws an UnstampableError, which says why it
 * stays as it is.
 */
export async function markedBytes(
  bytes: Uint8Array,
  item: Pick<ItemDetail, 'name' | 'title'> & { readonly owner: string },
  level: { readonly id: string; readonly content: LevelContent } | undefined,
  now: Date,
): Promise<Uint8Array> {
  if (!level) return unstampFile(bytes).bytes;
  const { id, name, marking } = stampedLevel(level.id, level.content);
  const { bytes: made } = await stampFile(
    bytes,
    filled(marking, {
      level: name,
      owner: item.owner,
      date: dayText(now.toISOString().slice(0, 10)),
      file: item.title ?? item.name,
    }),
    { id, name },
    wideFont(),
  );
  // Read back before anything is written.
  if ((await readFileLevel(made))?.id !== id)
    throw new UnstampableError('damaged', 'It does not tell its level once it is stamped.');
  return made;
}
