import { request } from '../desk/request.ts';
import type * as uploadsApi from '../../pages/api/uploads/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';

const PART = 1_000_000;

export async function base64Of(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let binary = '';
  for (let i = 0; i < bytes.length; i += 8192) binary += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(binary);
}

/** Sends a file part by part, so that neither side holds it whole; returns what it can be asked for by. */
export async function sendFile(file: File, progress: (share: number) => void = () => {}): Promise<number> {
  const { id } = await request<AnswerOf<typeof uploadsApi.POST>>('POST', '/api/uploads', {
    name: file.name,
    size: file.size,
  });
  for (let part = 0; part * PART < file.size; part++) {
    await request('PUT', `/api/uploads/${id}/${part}`, {
      base64: await base64Of(file.slice(part * PART, (part + 1) * PART)),
    });
    progress(Math.min(1, ((part + 1) * PART) / file.size));
  }
  return id;
}
