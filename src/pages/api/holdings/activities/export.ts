import { z } from 'zod';
import { BASES, SAFEGUARDS, SPECIAL_BASES } from '../../../../core/holdings/records/activity.ts';
import { dpvDocument } from '../../../../core/holdings/records/dpv.ts';
import { attachment } from '../../../../server/http/attachment.ts';
import { csvLine } from '../../../../server/http/csv.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { itemNames } from '../../../../server/holdings/items/item-names.ts';
import { allActivities } from '../../../../server/holdings/records/activities.ts';

/** All records, as a table or as JSON-LD of the Data Privacy Vocabulary. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ format: z.enum(['csv', 'dpv']).default('csv') }),
  run: async ({ ctx, input }) => {
    const [activities, { detectors }] = await Promise.all([allActivities(ctx.store), itemNames(ctx.store)]);
    const nameOf = (d: string) => detectors.get(d) ?? d;
    if (input.format === 'dpv')
      return attachment(
        'records-of-processing.jsonld',
        'application/ld+json',
        JSON.stringify(dpvDocument(activities, nameOf), null, 2),
      );
    const lines = activities.map(({ content: c }) =>
      csvLine([
        c.name,
        c.role,
        c.purpose,
        BASES[c.basis],
        c.special === 'none' ? '' : SPECIAL_BASES[c.special],
        c.offences,
        c.people.join('; '),
        c.data.map(nameOf).join('; '),
        c.recipients
          .map((r) => `${r.name}${r.country ? ` (${r.country}, ${SAFEGUARDS[r.safeguard]})` : ''}`)
          .join('; '),
        c.retention,
        c.measures,
        c.owner,
        c.review,
      ]),
    );
    return attachment('records-of-processing.csv', 'text/csv; charset=utf-8', csvLine(HEAD) + lines.join(''));
  },
});

const HEAD = [
  'Activity',
  'Role',
  'Purpose',
  'Legal basis',
  'Reason of Art. 9',
  'Law on offences',
  'Whose data',
  'Kinds of data',
  'Recipients',
  'Kept for',
  'Measures',
  'Owner',
  'Next review',
];
