import { z } from 'zod';
import { searchStaff, staffFigures, takeStaffList } from '../../../../server/accounts/staff/staff.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** How many people are known, and with a text those whose names have it. */
export const GET = endpoint({
  action: 'staff.read',
  input: z.object({ text: z.string().max(200).default('') }),
  run: async ({ ctx, input }) => ({
    figures: await staffFigures(ctx.store),
    found: input.text.trim() === '' ? [] : await searchStaff(ctx, input.text.trim()),
  }),
});

/** Takes a list in the place of the one that is known. */
export const POST = endpoint({
  action: 'staff.edit',
  input: z.object({ upload: z.int().positive() }),
  run: ({ ctx, account, input }) => takeStaffList(ctx, account.id, input.upload),
});
