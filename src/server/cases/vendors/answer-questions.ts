import { ANSWERS, VendorAnswer, type VendorQuestion } from '../../../core/cases/vendors/questionnaire.ts';
import { notFound, RefusedError, type FieldError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import type { SentFields } from '../../http/read-form.ts';
import { filesOf, keepFile, MOST_FILE } from '../dossiers/dossier-files.ts';
import { decide, knowDossier, knowNow } from '../dossiers/dossiers.ts';
import { VENDOR } from './vendor-kind.ts';
import { openVendorLink } from './vendor-link.ts';

export interface AskedPage {
  readonly vendor: string;
  readonly until: string;
  readonly questions: readonly VendorQuestion[];
  readonly answers: Readonly<Record<string, VendorAnswer>>;
  /** Names of files that were sent, by question. */
  readonly files: Readonly<Record<string, readonly string[]>>;
  readonly sentAt: string | null;
}

/** What a vendor sees at its link; `undefined` for a link that opens nothing any more. */
export async function askedPage(ctx: Context, token: string): Promise<AskedPage | undefined> {
  const id = await openVendorLink(ctx.store, ctx, token);
  if (id === undefined) return undefined;
  const { content, record } = await knowDossier(ctx.store, ctx, VENDOR, id);
  if (!record.asked || record.exit) return undefined;
  const files: Record<string, string[]> = {};
  for (const f of await filesOf(ctx.store, VENDOR.object, id)) (files[f.what] ??= []).push(f.name);
  const { questions, until, sentAt } = record.asked;
  return { vendor: content.name, until, questions, sentAt, files, answers: record.answers };
}

/** Bytes of all that is sent at once. */
export const MOST_SENT = 2 * MOST_FILE;

export interface TakenAnswers {
  readonly sent: boolean;
  /** What lacks, by field: it was kept, and not sent. */
  readonly lacking: readonly FieldError[];
}

/**
 * Keeps what a vendor answers, whole or in part, also where sending it is refused; once it is sent, it stays as it is. Throws a
 * RefusedError: (404) for a link that is over, (409) for what was sent before, or for one file too many.
 */
export async function takeAnswers(
  ctx: Context,
  token: string,
  { fields, files }: SentFields,
): Promise<TakenAnswers> {
  const id = await openVendorLink(ctx.store, ctx, token);
  if (id === undefined) throw notFound('link');
  const { facts } = await knowNow(ctx, VENDOR, id);
  return ctx.store.transaction(async (tx) => {
    const known = await knowDossier(tx, ctx, VENDOR, id, { lock: true, facts });
    const { asked, exit } = known.record;
    if (!asked || exit) throw notFound('link');
    if (asked.sentAt)
      throw new RefusedError('It was sent. Write to whoever asked you, to change it.', [], 409);
    const answers = answersWith(known.record.answers, asked.questions, fields);
    const lacking: FieldError[] = [];
    for (const q of asked.questions) {
      const file = files.get(`file-${q.id}`);
      if (file && file.bytes.length > MOST_FILE)
        lacking.push({
          field: `file-${q.id}`,
          message: `The file was not kept: at most ${MOST_FILE / 1e6} MB.`,
        });
      else if (file) await keepFile(tx, ctx, { object: VENDOR.object, id }, { what: q.id, ...file }, null);
    }
    const wishes = fields['send'] !== undefined;
    if (wishes) lacking.push(...unfinished(asked.questions, answers));
    const sent = wishes && lacking.length === 0;
    const count = asked.questions.filter((q) => answers[q.id]).length;
    await decide(
      ...([tx, ctx, VENDOR] as const),
      {
        ...known,
        record: {
          ...known.record,
          answers,
          asked: { ...asked, sentAt: sent ? ctx.now().toISOString() : null },
        },
      },
      {
        step: sent ? 'answered' : 'answered in part',
        words: `${count} of ${asked.questions.length} answered`,
        detail: { answered: count, asked: asked.questions.length, sent },
      },
      null,
    );
    return { sent, lacking };
  });
}

type Answers = Readonly<Record<string, VendorAnswer>>;

/** What was answered before, with what is answered now. */
function answersWith(
  before: Answers,
  questions: readonly VendorQuestion[],
  fields: SentFields['fields'],
): Answers {
  const answers: Record<string, VendorAnswer> = { ...before };
  for (const { id } of questions) {
    const is = ANSWERS.find((a) => a === fields[`is-${id}`]) ?? answers[id]?.is;
    const words = fields[`words-${id}`]?.trim().slice(0, 2000) ?? answers[id]?.words ?? '';
    if (is) answers[id] = { is, words };
  }
  return answers;
}

function unfinished(questions: readonly VendorQuestion[], answers: Answers): readonly FieldError[] {
  const wrong: FieldError[] = [];
  for (const q of questions) {
    const a = answers[q.id];
    if (!a) wrong.push({ field: `is-${q.id}`, message: 'Choose one.' });
    else if (a.is !== 'yes' && a.words === '')
      wrong.push({ field: `words-${q.id}`, message: 'Say how it is, or why it does not apply.' });
  }
  return wrong;
}
