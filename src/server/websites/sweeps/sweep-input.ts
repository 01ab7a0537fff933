import { z } from 'zod';
import { HostInput } from '../sites/host-input.ts';

/** A sweep of a site, as endpoints take it from their path. */
export const SweepInput = HostInput.extend({ id: z.coerce.number().int().positive() });
