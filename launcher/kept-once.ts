import { randomUUID } from 'node:crypto';
import { link, readFile, rm, writeFile } from 'node:fs/promises';

/** The text of a file that is made at its first use; of two who make it at once, both get what the first made. */
export async function keptOnce(file: string, make: () => string): Promise<string> {
  const kept = await read(file);
  if (kept !== undefined) return kept;
  const making = `${file}.${randomUUID()}`;
  await writeFile(making, make(), { mode: 0o600 });
  try {
    await link(making, file);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    await rm(making, { force: true });
  }
  return (await read(file)) as string;
}

async function read(file: string): Promise<string | undefined> {
  return readFile(file, 'utf8').then(
    (text) => text.trim(),
    () => undefined,
  );
}
