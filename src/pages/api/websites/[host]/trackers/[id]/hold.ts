import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { putHold, takeHoldBack } from '../../../../../../server/websites/trackers/gate-holds.ts';
import { HostInput, siteObject } from '../../../../../../server/websites/sites/host-input.ts';

const Tracker = HostInput.extend({ id: z.coerce.number().int().positive() });

export const POST = endpoint({
  action: 'websites.put-in-force',
  input: Tracker.extend({ purpose: z.string().max(31) }),
  object: siteObject,
  run: ({ ctx, account, input }) => putHold(ctx, account.id, input.host, input.id, input.purpose),
});

export const DELETE = endpoint({
  action: 'websites.put-in-force',
  input: Tracker,
  object: siteObject,
  run: ({ ctx, account, input }) => takeHoldBack(ctx, account.id, input.host, input.id),
});
