import { z } from 'zod';
import { HostInput } from '../sites/host-input.ts';

export const VisitInput = HostInput.extend({ id: z.coerce.number().int().positive() });
