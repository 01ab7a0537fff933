import { z } from 'zod';
import { VendorAct } from '../../../../../core/cases/vendors/vendor-act.ts';
import { VENDOR } from '../../../../../server/cases/vendors/vendor-kind.ts';
import { viewVendor } from '../../../../../server/cases/vendors/view-vendor.ts';
import { actOnDossier } from '../../../../../server/cases/dossiers/dossiers.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ id: Id }),
  run: ({ ctx, input }) => viewVendor(ctx, input.id),
});

/** Does something about it; as it stands then. */
export const POST = endpoint({
  action: 'cases.dossiers',
  input: z.object({ id: Id, does: VendorAct }),
  run: async ({ ctx, account, input: { id, does } }) => {
    await actOnDossier(ctx, VENDOR, account, id, does);
    return viewVendor(ctx, id);
  },
});
