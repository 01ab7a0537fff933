import type { Context } from '../../src/server/context.ts';
import { beginUpload, takePart, UPLOAD_PART } from '../../src/server/files/uploads.ts';

/** Sends a file as the desk does; its number. */
export async function sendFile(ctx: Context, by: number, name: string, bytes: Uint8Array): Promise<number> {
  const { id } = await beginUpload(ctx, by, name, bytes.length);
  for (let part = 0; part * UPLOAD_PART < bytes.length; part++)
    await takePart(
      ctx,
      by,
      id,
      part,
      Buffer.from(bytes.subarray(part * UPLOAD_PART, (part + 1) * UPLOAD_PART)).toString('base64'),
    );
  return id;
}
