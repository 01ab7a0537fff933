import { withSource } from '../search/with-source.ts';
import { z } from 'zod';
import { recognise } from '../../../../core/cases/requests/person/recognise.ts';
import {
  TRAITS,
  traitKey,
  type Subject,
  type Trait,
} from '../../../../core/cases/requests/person/subject.ts';
import type { Json } from '../../../../core/rules/change.ts';
import type { Context } from '../../../context.ts';
import { fetchWhole, findItem, findSource, itemsOfPerson } from '../../../holdings/offers.ts';
import type { JobKind } from '../../../jobs/runner.ts';
import { showRequest } from '../request-facts.ts';
import { findRequest, openRequest, type PROOFS } from '../request-row.ts';
import { readDocument } from '../search/look-through.ts';
import { setKnown } from './ask-who.ts';

const Payload = z.object({ request: z.number() });
/** More need not be read to know whether answers are right. */
const MOST_READ = 25;
/** Answers that have to be right. */
const ENOUGH = 2;

/**
 * Compares what somebody answered with what is held beside their address. Right answers, and none that is wrong, make them
 * known; anything else is for a person to decide. Nothing of it is told to whoever asks.
 */
export const compareAnswersJob: JobKind = {
  kind: 'compare-answers',
  lane: 'quick',
  see: 'cases.read',
  start: 'cases.handle',
  work: async (ctx, run): Promise<Json> => {
    const { request: id } = Payload.parse(run.job.payload);
    const row = await findRequest(ctx.store, id);
    const request = openRequest(ctx, row);
    if (!request || row.known_by !== null || row.outcome !== null) return { done: false };
    const { right, wrong, read } = await compare(ctx, request.subject, run.signal);
    const answered = right.size;
    const proof: (typeof PROOFS)[number] =
      read === 0
        ? 'nothing held'
        : wrong.size > 0
          ? 'differs'
          : answered >= ENOUGH
            ? 'agrees'
            : answered === 0
              ? 'nothing held'
              : 'differs';
    await ctx.store.transaction(async (tx) => {
      await tx.run('UPDATE subject_request SET proof = ? WHERE id = ?', [proof, id]);
      if (proof === 'agrees')
        await setKnown(
          tx,
          ctx,
          id,
          'link and questions',
          null,
          `${answered} answers agree with what is held`,
        );
      await showRequest(tx, ctx, id);
    });
    return { proof };
  },
};

async function compare(ctx: Context, subject: Subject, signal: AbortSignal) {
  const right = new Set<Trait>();
  const wrong = new Set<Trait>();
  let read = 0;
  const wanted = { values: subject.emails, names: [], births: [], others: [] };
  const candidates = (await itemsOfPerson(ctx, wanted)).filter((c) => c.because === 'a value');
  const asked = TRAITS.filter((t) => t !== 'e-mail' && t !== 'name');
  for (const c of candidates.slice(0, MOST_READ)) {
    if (signal.aborted || right.size >= ENOUGH + 1) break;
    const item = await findItem(ctx.store, c.id).catch(() => undefined);
    if (!item) continue;
    // A source that does not answer tells nothing.
    await withSource(ctx, await findSource(ctx.store, item.source_id), async (connector) => {
      const { bytes, format } = await fetchWhole(connector, item);
      const document = await readDocument(ctx, { name: format, bytes });
      const found = recognise(subject, document);
      for (const part of found.parts.filter((p) => p.by.includes('e-mail'))) {
        read++;
        for (const trait of asked) if (part.by.includes(trait)) right.add(trait);
        // Beside the address in a row, another birth date is somebody else’s, or a wrong answer.
        if (part.record === null || subject.born === '' || part.by.includes('birth date')) continue;
        const born = document.found.filter(
          (f) => f.trait === 'birth date' && f.start >= part.start && f.end <= part.end,
        );
        const key = born[0] && traitKey('birth date', document.text.slice(born[0].start, born[0].end));
        if (born.length === 1 && key !== '' && key !== subject.born) wrong.add('birth date');
      }
    });
  }
  return { right, wrong, read };
}
