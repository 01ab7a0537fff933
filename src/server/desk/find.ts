import { may, type Account } from '../../core/accounts/authority.ts';
import { ranked, typedWords } from '../../core/desk/find-rank.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { logFailure } from '../processes/failure-log.ts';
import { findFigures } from './figures.ts';
import type { Found } from './found.ts';

const MOST = 40;

/**
 * Objects that fit what was typed, the best first, of those the account may see. Areas are asked for the text as it is,
 * and where it is several words for the longest of them, so that words stand in any order; one that cannot be asked now
 * does not keep the others from answering.
 */
export async function find(ctx: Context, account: Account, text: string): Promise<readonly Found[]> {
  const finders = AREAS.flatMap((a) => a.finders ?? []).filter((f) => may(account, f.action));
  const oneWord = finders.filter((f) => f.words !== 'all');
  const words = typedWords(text);
  const [longest = text] = words.toSorted((a, b) => b.length - a.length);
  const ask = async (wanted: string, of = finders) =>
    (
      await Promise.all(
        of.map((f) =>
          f.find(ctx, wanted, account).catch((error: unknown): readonly Found[] => {
            logFailure('a part of Find could not answer', error, {});
            return [];
          }),
        ),
      )
    ).flat();
  const [whole, part] = await Promise.all([ask(text), words.length > 1 ? ask(longest, oneWord) : []]);
  return ranked(text, { whole: [...whole, ...findFigures(account, text)], part }, MOST);
}
