import { join } from 'node:path';
import { objectStore } from './object-store.ts';

/** Where the archive of the ferry line is kept, by a made-up company. */
export const STORE_HOST = 'store.localhost';

/** Opens the made-up archive, and nothing else. */
export const ARCHIVE_KEY = { user: 'archive-reader', secret: 'only-made-up-data-behind-this' } as const;

export function archiveStore(dataDir: string): ReturnType<typeof objectStore> {
  return objectStore({ folder: join(dataDir, 'estate', 'buckets'), ...ARCHIVE_KEY, page: 500 });
}
