import type { APIRoute } from 'astro';
import type { z } from 'zod';
import { tokenEndpoint } from '../../http/program-endpoint.ts';
import type { Context } from '../../context.ts';
import { deviceOf, type Device } from './devices.ts';

/** For devices that were let in. */
export function deviceEndpoint<T extends z.ZodType>({
  input,
  run,
}: {
  readonly input: T;
  readonly run: (asked: {
    readonly ctx: Context;
    readonly who: Device;
    readonly input: z.infer<T>;
    readonly body: Uint8Array;
  }) => Promise<unknown>;
}): APIRoute {
  return tokenEndpoint({
    who: (ctx, authorization) => deviceOf(ctx.store, authorization),
    name: ({ id }) => `device ${id}`,
    input,
    run,
  });
}
