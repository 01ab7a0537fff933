import { ANSWERS, VendorAnswer, type VendorQuestion } from '../../../core/cases/vendors/questionnaire.ts';
import { notFound, RefusedError, type FieldError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import type { SentFields } from '../../http/read-form.ts';
import { filesOf, keepFile, MOST_FILE } from '../dossiers/dossier-files.ts';
import { decide, knowDossier } from '../dossiers/dossiers.ts';
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

/**
 * Keeps what a vendor answers, whole or in part; once it is sent, it stays as it is. Throws a RefusedError: (404) for a link
 * that is over, (400) naming what lacks, (409) for what was sent before, (413) for a file that is too large.
 */
export async function takeAnswers(
  ctx: Context,
  token: string,
  { fields, files }: SentFields,
): Promise<'kept' | 'sent'> {
  const id = await openVendorLink(ctx.store, ctx, token);
  if (id === undefined) throw notFound('link');
  const send = fields['send'] !== undefined;
  await ctx.store.transaction(async (tx) => {
    const known = await knowDossier(tx, ctx, VENDOR, id, { lock: true });
    const { asked } = known.record;
    if (!asked || known.record.exit) throw notFound('link');
    if (asked.sentAt)
      throw new RefusedError('It was sent. Write to whoever asked you, to change it.', [], 409);
    const answers = { ...known.record.answers };
    for (const q of asked.questions) {
      const is = ANSWERS.find((a) => a === fields[`is-${q.id}`]);
      const words = (fields[`words-${q.id}`] ?? '').trim().slice(0, 2000);
      if (is) answers[q.id] = { is, words };
      else if (answers[q.id])
        answers[q.id] = { ...(answers[q.id] as VendorAnswer), ...(words ? { words } : {}) };
    }
    for (const [field, file] of files) {
      const q = asked.questions.find((x) => field === `file-${x.id}`);
      if (q) await keepFile(tx, ctx, { object: VENDOR.object, id }, { what: q.id, ...file }, null);
    }
    if (send) refuseUnfinished(asked.questions, answers);
    const sentAt = send ? ctx.now().toISOString() : null;
    const count = asked.questions.filter((q) => answers[q.id]).length;
    await decide(
      ...([
        tx,
        ctx,
        VENDOR,
        { ...known, record: { ...known.record, answers, asked: { ...asked, sentAt } } },
      ] as const),
      {
        step: send ? 'answered' : 'answered in part',
        words: `${count} of ${asked.questions.length} answered`,
        detail: { answered: count, asked: asked.questions.length, sent: send },
      },
      null,
    );
  });
  return send ? 'sent' : 'kept';
}

function refuseUnfinished(
  questions: readonly VendorQuestion[],
  answers: Readonly<Record<string, VendorAnswer>>,
): void {
  const wrong: FieldError[] = [];
  for (const q of questions) {
    const a = answers[q.id];
    if (!a) wrong.push({ field: `is-${q.id}`, message: 'Choose one.' });
    else if (a.is !== 'yes' && a.words === '')
      wrong.push({ field: `words-${q.id}`, message: 'Say how it is, or why it does not apply.' });
  }
  if (wrong.length > 0) throw new RefusedError('', wrong);
}
