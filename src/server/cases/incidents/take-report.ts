import { z } from 'zod';
import { incidentNumber, KIND_OF_INCIDENT, NewIncident } from '../../../core/cases/incidents/incident.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { fieldErrors } from '../../http/endpoint.ts';
import { countForm, judgeForm } from '../requests/form/take-form.ts';
import { takeIncident } from './act-on-incident.ts';

const Sent = z.object({
  seed: z.string().max(80),
  work: z.string().max(12).default(''),
  homepage: z.string().max(200).default(''),
  kind: z.enum(KIND_OF_INCIDENT),
  title: z.string().trim().min(3, 'A few words').max(160),
  words: z.string().trim().max(4000).default(''),
  reporter: z.string().trim().max(200).default(''),
  when: z.string().trim().max(40).default(''),
});

/**
 * Takes what anybody tells that went wrong, without an account: known from now on. Throws a RefusedError: (400) with the
 * fields that are wrong, (429) for too many from one network.
 */
export async function takeReport(
  ctx: Context,
  address: string,
  fields: Readonly<Record<string, string>>,
): Promise<{ readonly number: string }> {
  const read = Sent.safeParse(fields);
  if (!read.success) throw new RefusedError('', fieldErrors(read.error));
  const { kind, title, words, reporter, when } = read.data;
  const { worked, robot } = judgeForm(ctx, read.data);
  if (robot) return { number: '–' };
  const incident = NewIncident.parse({
    ...{ kind, title, reporter, knownAt: ctx.now().toISOString() },
    words: when === '' ? words : `${words}\n\nWhen: ${when}`.trim(),
  });
  return ctx.store.transaction(async (tx) => {
    await countForm(tx, ctx, address, worked);
    return { number: incidentNumber(await takeIncident(tx, ctx, incident, null)) };
  });
}
