import type { Refusal } from '../../core/refusal.ts';
import { RequestError } from './request-error.ts';

/** Has an endpoint make a file and saves it under the name it gives. Throws a RequestError. */
export async function saveAnswer(path: string, body: unknown): Promise<void> {
  const response = await fetch(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json' },
  });
  if (!response.ok) {
    const refusal = (await response.json().catch(() => undefined)) as Refusal | undefined;
    throw new RequestError(
      response.status,
      refusal ?? { error: `The server answered ${response.status}.`, fields: [] },
    );
  }
  const name = /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1];
  const link = document.createElement('a');
  link.href = URL.createObjectURL(await response.blob());
  link.download = name ?? 'download';
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
