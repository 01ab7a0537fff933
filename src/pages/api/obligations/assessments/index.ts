import { z } from 'zod';
import { listAssessments } from '../../../../server/obligations/assessments/assessment-view.ts';
import { startAssessment } from '../../../../server/obligations/assessments/start-assessment.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: ({ ctx }) => listAssessments(ctx),
});

/** Starts one in a cycle that runs, by its number, or in a new one, by its name. */
export const POST = endpoint({
  action: 'obligations.edit',
  input: z.object({
    framework: z.string().min(1, 'Choose a framework.').max(80),
    cycle: z.union([
      z.int().positive(),
      z.string().trim().min(1, 'Name the cycle: the part of the organisation, and the year.').max(120),
    ]),
    lead: z.int().positive().nullable(),
    due: z.iso.date().nullable(),
  }),
  run: async ({ ctx, account, input }) => ({ id: await startAssessment(ctx, account.id, input) }),
});
