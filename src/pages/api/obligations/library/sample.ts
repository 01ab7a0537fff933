import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { sampleWorkbook } from '../../../../server/obligations/library/export-framework.ts';

/** A filled workbook to begin a framework of one’s own with. */
export const GET = endpoint({
  action: 'obligations.read',
  input: z.object({}),
  run: () => sampleWorkbook(),
});
