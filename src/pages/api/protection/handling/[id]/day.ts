import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { dayOfPerson } from '../../../../../server/protection/handling/handling-outlook.ts';

/** One person’s day as it would have been by the draft of a rule. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({
    id: z.string().max(20),
    person: z.string().trim().toLowerCase().min(1, 'Say who').max(254),
    day: z.iso.date(),
  }),
  run: ({ ctx, input }) => dayOfPerson(ctx, input.id, input.person, input.day),
});
