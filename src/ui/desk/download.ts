import { requestError } from './request.ts';

/** Asks an endpoint for a file and hands it to the browser to save, by this name. Throws a RequestError. */
export async function download(path: string, body: unknown, name: string): Promise<void> {
  const answer = await fetch(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json' },
  });
  if (!answer.ok) throw await requestError(answer, path);
  const url = URL.createObjectURL(await answer.blob());
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
