import { z } from 'zod';
import type { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { keepStep, tryStep } from '../sign-in/sign-in-step.ts';

const Kept = z.object({ why: z.string(), help: z.string() });

/** Why a sign-on could not begin, for the page that says so: what it says comes from here, never from its address. */
export function keepRefusal(ctx: Context, { message, fields }: RefusedError): Promise<string> {
  return keepStep(ctx, 'refused', undefined, { why: message, help: fields[0]?.message ?? '' });
}

/** Throws a RefusedError (401) where there is none. */
export async function readRefusal(ctx: Context, token: string | undefined): Promise<z.infer<typeof Kept>> {
  return (await tryStep(ctx, 'refused', token, Kept)).content;
}
