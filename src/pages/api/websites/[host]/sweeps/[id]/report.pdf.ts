import { VISITORS } from '../../../../../../core/websites/trackers/visitor.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { attachment } from '../../../../../../server/http/attachment.ts';
import { siteObject } from '../../../../../../server/websites/sites/host-input.ts';
import { readPicture, readReport } from '../../../../../../server/websites/sweeps/sweep-end.ts';
import { SweepInput } from '../../../../../../server/websites/sweeps/sweep-input.ts';
import { sweepPdf } from '../../../../../../server/websites/sweeps/sweep-pdf.ts';
import { findSiteSweep } from '../../../../../../server/websites/sweeps/sweeps.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: SweepInput,
  object: siteObject,
  run: async ({ ctx, input }) => {
    const sweep = await findSiteSweep(ctx.store, input.host, input.id);
    const sealed = await readReport(ctx.store, sweep.id);
    const pictures = await Promise.all(
      VISITORS.map(
        async (v) => [v, await readPicture(ctx.store, sweep.id, v).catch(() => undefined)] as const,
      ),
    );
    const found = new Map(pictures.flatMap(([v, jpeg]) => (jpeg ? [[v, jpeg] as const] : [])));
    return attachment(
      `sweep-${input.host}-${sweep.id}.pdf`,
      'application/pdf',
      await sweepPdf(sealed, found),
    );
  },
});
