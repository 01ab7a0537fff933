import { isAnswer } from '../../../../core/cases/requests/request-act.ts';
import {
  LETTER_WORDS,
  type LetterId,
  type WrittenLetter,
} from '../../../../core/cases/requests/letters/request-letter.ts';
import { dayIn } from '../../../../core/retention/offers.ts';
import type { Context } from '../../../context.ts';
import { queueMail } from '../../../outbox/outbox.ts';
import { toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { readRequestPolicy } from '../request-policy.ts';
import { addStep, sealJson } from '../request-row.ts';

export interface Sending {
  readonly request: number;
  readonly letter: LetterId;
  readonly language: string;
  readonly written: WrittenLetter;
  /** `null` where the program wrote by itself. */
  readonly by: number | null;
  readonly to: string;
  /** Tells letters of one kind apart that are not the same one sent twice. */
  readonly key?: string;
  /** Parts of it that are not kept: a link that opens something. */
  readonly secret?: readonly string[];
}

/**
 * Writes to who asks, by mail, and keeps what was written with the request; an answer is one from then on. The request has
 * to be shown anew afterwards.
 */
export async function sendLetter(
  tx: Queries,
  ctx: Context,
  { request, letter, language, written, by, to, key = '', secret = [] }: Sending,
): Promise<void> {
  const at = ctx.now();
  const kept = written.paragraphs.map((p) => secret.reduce((text, s) => text.replaceAll(s, '…'), p));
  const { id } = await tx.run(
    'INSERT INTO request_letter (request_id, at, letter, language, content, by_account) VALUES (?)',
    [
      [
        request,
        toDatetime(at),
        letter,
        language,
        sealJson(ctx, { to, subject: written.subject, paragraphs: kept }),
        by,
      ],
    ],
  );
  const names = written.paragraphs.map((_, i) => `p${letters(i)}`);
  await queueMail(tx, ctx, {
    ...{
      key: `request ${request} ${letter} ${key || id}`,
      about: { object: 'request', id: request },
      to,
      language: 'en',
    },
    template: {
      id: `request ${letter}`,
      texts: { en: { subject: '{subject}', body: names.map((n) => `{${n}}`) } },
    },
    values: {
      subject: written.subject,
      ...Object.fromEntries(written.paragraphs.map((p, i) => [names[i] ?? '', p])),
    },
  });
  const day = dayIn(at.toISOString(), (await readRequestPolicy(tx)).zone);
  if (letter === 'received')
    await tx.run('UPDATE subject_request SET confirmed_on = COALESCE(confirmed_on, ?) WHERE id = ?', [
      day,
      request,
    ]);
  if (isAnswer(letter))
    await tx.run('UPDATE subject_request SET answered_on = COALESCE(answered_on, ?) WHERE id = ?', [
      day,
      request,
    ]);
  await addStep(tx, at, request, isAnswer(letter) ? 'answered' : 'wrote', by, LETTER_WORDS[letter]);
}

/** Slots of letters have names of letters alone. */
function letters(n: number): string {
  return String(n).replace(/\d/g, (d) => 'abcdefghij'[Number(d)] as string);
}
