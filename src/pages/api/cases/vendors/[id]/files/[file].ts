import { z } from 'zod';
import { sendFile } from '../../../../../../server/cases/dossiers/dossier-files.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';

const Id = z.coerce.number().int().min(1);

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({ id: Id, file: Id }),
  run: ({ ctx, input: { id, file } }) => sendFile(ctx, 'vendor', id, file),
});
