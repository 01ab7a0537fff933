import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { listBuiltIn } from '../../../server/holdings/trial.ts';

export const GET = endpoint({ action: 'holdings.read', input: z.object({}), run: async () => listBuiltIn() });
