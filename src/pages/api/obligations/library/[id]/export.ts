import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  exportFramework,
  FRAMEWORK_FORMS,
} from '../../../../../server/obligations/library/export-framework.ts';

/** A framework as a file, for mending elsewhere and taking in again. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({
    id: z.string().max(80),
    version: z.iso.date().optional(),
    as: z.enum(FRAMEWORK_FORMS).default('json'),
  }),
  run: ({ ctx, input }) => exportFramework(ctx, input.id, input.version, input.as),
});
