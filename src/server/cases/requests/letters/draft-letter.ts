import { z } from 'zod';
import { GROUND_WORDS, type Ground } from '../../../../core/cases/requests/covers/cover.ts';
import {
  activitiesWords,
  asksWords,
  complaintWords,
  deletedWords,
  keptWords,
  leftOutWords,
  letterDay,
} from '../../../../core/cases/requests/letters/letter-values.ts';
import {
  composeLetter,
  type LetterId,
  type WrittenLetter,
} from '../../../../core/cases/requests/letters/request-letter.ts';
import { letterAddress, letterName, requestNumber } from '../../../../core/cases/requests/request.ts';
import { BASES } from '../../../../core/holdings/offers.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import { lastDayOf } from '../../../../core/retention/offers.ts';
import type { Context } from '../../../context.ts';
import { allActivities } from '../../../holdings/offers.ts';
import type { Queries } from '../../../store/pool.ts';
import { listItems, type RequestItem } from '../items/list-items.ts';
import { latestPackage, phraseOf } from '../package/packages.ts';
import { knowRequest } from '../request-facts.ts';
import { openRequest } from '../request-row.ts';

export interface DraftLetter extends WrittenLetter {
  readonly to: string;
  readonly language: string;
}

/** Stands in a letter for the address of the package, which is made as it is sent. */
export const LINK = '[link]';

export const DraftInput = z.object({ reason: z.string().max(500).default('') });

/** A letter with the data of the case put in, to be read over before it goes. Throws a RefusedError (409). */
export async function draftLetter(
  ctx: Context,
  id: number,
  letter: LetterId,
  reason: string,
): Promise<DraftLetter> {
  const { row, policy, today, clock } = await knowRequest(ctx.store, ctx, id);
  const request = openRequest(ctx, row);
  if (!request) throw new RefusedError('What it said was let go.', [], 409);
  const { language } = row;
  const items = await listItems(ctx.store, id);
  const theirs = items.filter((i) => i.theirs === 'yes');
  const made = await latestPackage(ctx.store, id);
  const day =
    letter === 'extended'
      ? (clock.extendedTo ?? clock.answerBy)
      : letter === 'package'
        ? lastDayOf(today, { count: policy.fetchDays, unit: 'days' })
        : clock.answerBy;
  const written = composeLetter(letter, language, {
    ...{ name: letterName(request), organisation: policy.organisation, number: requestNumber(id) },
    ...{ asks: asksWords(row.kind, language), law: row.law.name, day: letterDay(day, language) },
    article: letter === 'extended' ? (row.law.extend?.article ?? '') : row.law.answerArticle,
    ...{ link: LINK, reason: reason || '…', complaint: complaintWords(row.law, language) },
    told: await toldBesides(ctx.store, letter, language, theirs),
    kept:
      letter === 'deleted' || letter === 'done'
        ? keptWords(language, reasonsKept(theirs))
        : leftOutWords(language, reasonsLeftOut(theirs)),
    phrase: (made && phraseOf(ctx, made)) ?? '',
  });
  return { ...written, to: letterAddress(request), language };
}

async function toldBesides(
  store: Queries,
  letter: LetterId,
  language: string,
  theirs: readonly RequestItem[],
): Promise<string> {
  if (letter === 'deleted')
    return deletedWords(language, theirs.filter((i) => i.changeState === 'done').length);
  if (letter !== 'package') return '';
  const systems = new Set(theirs.flatMap((i) => (i.systemId === null ? [] : [String(i.systemId)])));
  const activities = (await allActivities(store)).filter(({ content }) =>
    content.systems.some((s) => systems.has(s)),
  );
  if (activities.length === 0) return '';
  const lines = activities.map(({ content: a }) => {
    const receivers = a.recipients.map((r) => r.name).join(', ');
    return `– ${a.name}: ${BASES[a.basis]}${receivers ? `; ${receivers}` : ''}${a.retention ? `; ${a.retention}` : ''}`;
  });
  return [activitiesWords(language), ...lines].join('\n');
}

const reasonsKept = (items: readonly RequestItem[]) => [
  ...new Set(items.filter((i) => i.fate === 'kept').map((i) => `${i.fateWhy} (${i.fateArticle})`)),
];

/** Grounds of what was left out or covered, each once. */
function reasonsLeftOut(items: readonly RequestItem[]): readonly string[] {
  const grounds = new Set<Ground>();
  for (const i of items) {
    if (i.state === 'left out' && i.ground !== null && i.ground !== 'kept') grounds.add(i.ground);
    if (i.covers > 0) grounds.add('another person');
  }
  return [...grounds].map((g) => GROUND_WORDS[g]);
}
