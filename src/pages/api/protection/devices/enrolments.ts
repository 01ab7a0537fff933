import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import {
  endEnrolment,
  EnrolmentWish,
  openEnrolment,
  openEnrolments,
} from '../../../../server/protection/devices/devices.ts';

/** Tokens that still let devices in; never the tokens themselves. */
export const GET = endpoint({
  action: 'protection.devices',
  input: z.object({}),
  run: ({ ctx }) => openEnrolments(ctx),
});

/** A token that lets devices in; it is shown once. */
export const POST = endpoint({
  action: 'protection.devices',
  input: EnrolmentWish,
  run: ({ ctx, account, input }) => openEnrolment(ctx, account.id, input),
});

/** Takes one back. */
export const DELETE = endpoint({
  action: 'protection.devices',
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: ({ ctx, account, input }) => endEnrolment(ctx, account.id, input.id),
});
