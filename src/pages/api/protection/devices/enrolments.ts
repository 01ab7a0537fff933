import { endpoint } from '../../../../server/http/endpoint.ts';
import { EnrolmentWish, openEnrolment } from '../../../../server/protection/devices/devices.ts';

/** A token that lets devices in; it is shown once. */
export const POST = endpoint({
  action: 'protection.devices',
  input: EnrolmentWish,
  run: ({ ctx, account, input }) => openEnrolment(ctx, account.id, input),
});
