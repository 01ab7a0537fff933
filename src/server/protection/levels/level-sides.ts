import type { Account } from '../../../core/accounts/authority.ts';
import { stampedLevel, type LevelContent } from '../../../core/protection/levels/level-content.ts';
import { filled, UnstampableError, type Marking } from '../../../core/protection/stamp/marking.ts';
import { isPdf } from '../../../core/protection/stamp/stamp-pdf.ts';
import { dayText } from '../../../core/text/day.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import {
  fetchItem,
  findItem,
  itemText,
  type ItemDetail,
  type TextPiece,
  ItemOwners,
} from '../../holdings/offers.ts';
import { READING } from '../../http/shares.ts';
import { doesNotGo } from '../runs/stamped-item.ts';
import { readApart, stampApart } from '../stamp-thread.ts';
import { levelsInForce } from './levels.ts';

/** A document before and after a level stands on it, as far as it can be shown. */
export interface LevelSides {
  readonly name: string;
  readonly format: string;
  /** How it begins, with every value that is found in it masked. */
  readonly pieces: readonly TextPiece[];
  /** The level that it says it has now. */
  readonly says: string | null;
  /** What stands on it now, as that level is in force. */
  readonly had: Marking | null;
  readonly level: string;
  /** What will stand on it; null where it will not, and why. */
  readonly marking: Marking | null;
  readonly why: string;
  /** Its pages can be shown as they are, to whoever may see values in clear. */
  readonly isPdf: boolean;
}

const MOST_LETTERS = 2400;

/** Both sides of an item, of which one is stamped for it and thrown away. Goes to the ledger as any reading does. */
export async function levelSides(
  ctx: Context,
  account: Account,
  id: number,
  level: string,
): Promise<LevelSides> {
  const [item, content] = [await findItem(ctx.store, id), await inForce(ctx, level)];
  const [text, sides] = [
    await itemText(ctx, account, id),
    await stampSides(ctx, account, item, level, content),
  ];
  return {
    name: item.title ?? item.name,
    format: item.format,
    pieces: beginning(text.pieces),
    says: sides.says,
    had: sides.had,
    level: content.name,
    marking: 'after' in sides ? sides.marking : null,
    why: 'why' in sides ? sides.why : '',
    isPdf: 'after' in sides && isPdf(sides.before),
  };
}

/** One side of a PDF as it is. Goes to the ledger. Throws a RefusedError for what is none, or cannot be stamped. */
export async function pdfSide(
  ctx: Context,
  account: Account,
  id: number,
  { level, side }: { readonly level: string; readonly side: 'before' | 'after' },
): Promise<Uint8Array> {
  const item = await findItem(ctx.store, id);
  const sides = await stampSides(ctx, account, item, level, await inForce(ctx, level));
  if ('why' in sides) throw new RefusedError(sides.why, [], 409);
  if (!isPdf(sides.before)) throw new RefusedError('It is no PDF.', [], 409);
  await record(ctx.store, ctx.now(), {
    actor: account.id,
    action: 'item.read',
    object: 'item',
    objectId: id,
    detail: { values: 'in clear', side },
  });
  return sides[side];
}

type Sides = { readonly says: string | null; readonly had: Marking | null } & (
  | { readonly before: Uint8Array; readonly after: Uint8Array; readonly marking: Marking }
  | { readonly why: string }
);

async function stampSides(
  ctx: Context,
  account: Account,
  item: ItemDetail,
  level: string,
  content: LevelContent,
): Promise<Sides> {
  const before = new Uint8Array((await fetchItem(ctx, item)).bytes);
  const owner = await new ItemOwners(ctx.store, ctx.now()).nameOf(item);
  const markedAs = (id: string, of: LevelContent) => {
    const { name, marking } = stampedLevel(id, of);
    const date = dayText(ctx.now().toISOString().slice(0, 10));
    return { name, marking: filled(marking, { level: name, owner, date, file: item.title ?? item.name }) };
  };
  const { name, marking } = markedAs(level, content);
  let [says, had]: [string | null, Marking | null] = [null, null];
  try {
    const { carried, carrier } = await readApart(before);
    says = carried?.name ?? null;
    const now = carried && (await levelsInForce(ctx)).get(carried.id);
    if (carried && now) had = markedAs(carried.id, now).marking;
    const why = doesNotGo(carrier, content);
    if (why !== undefined) return { says, had, why };
    const after = await READING.use(account.id, () =>
      stampApart({ bytes: before, marking, level: { id: level, name } }),
    );
    return { says, had, before, after, marking };
  } catch (error) {
    if (!(error instanceof UnstampableError)) throw error;
    return { says, had, why: error.message };
  }
}

async function inForce(ctx: Context, level: string): Promise<LevelContent> {
  const content = (await levelsInForce(ctx)).get(level);
  if (!content)
    throw new RefusedError('That level is not in force.', [
      { field: 'level', message: 'Choose one that is.' },
    ]);
  return content;
}

function beginning(pieces: readonly TextPiece[]): readonly TextPiece[] {
  const some: TextPiece[] = [];
  let left = MOST_LETTERS;
  for (const p of pieces) {
    if (left <= 0) break;
    const words = 'text' in p ? p.text : p.masked;
    some.push('text' in p ? { text: words.slice(0, left) } : p);
    left -= words.length;
  }
  return some;
}
