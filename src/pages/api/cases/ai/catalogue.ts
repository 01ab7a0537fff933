import { z } from 'zod';
import { catalogueModels } from '../../../../server/cases/ai/catalogue.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.dossiers.read',
  input: z.object({}),
  run: ({ ctx }) => catalogueModels(ctx),
});
