import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { figure } from './figure.ts';

const CLIENT = join(import.meta.dirname, '../dist/web/client/_astro');

/** Script that the desk's first view loads: the island of Websites with all it imports, gzipped. */
async function main(): Promise<void> {
  const { readdir } = await import('node:fs/promises');
  const files = (await readdir(CLIENT)).filter((f) => f.endsWith('.js'));
  const wanted = files.filter((f) => /^(WebsitesArea|client)\./.test(f));
  const loaded = new Set<string>();
  const queue = [...wanted];
  let bytes = 0;
  for (let file = queue.pop(); file; file = queue.pop()) {
    if (loaded.has(file)) continue;
    loaded.add(file);
    const text = await readFile(join(CLIENT, file), 'utf8');
    bytes += gzipSync(text, { level: 9 }).length;
    for (const match of text.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g))
      queue.push(match[1] as string);
  }
  figure('desk', 'first_view_script_gzip', bytes / 1024, 'KiB');
}

void main();
