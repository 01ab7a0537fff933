import { readdir, readFile } from 'node:fs/promises';
import { dirname, join, relative, resolve } from 'node:path';
import { PROJECT } from './project.ts';

/** Which folders a layer may import from. A type-only import of `ui` from `server` tells what an endpoint answers. */
const MAY: Readonly<Record<string, readonly string[]>> = {
  'src/core': ['src/core'],
  'src/server': ['src/core', 'src/server'],
  'src/pages': ['src/pages', 'src/server', 'src/core', 'src/ui'],
  'src/ui': ['src/ui', 'src/core'],
  'src/visitor': ['src/visitor', 'src/core/websites'],
  standins: ['standins', 'src/core', 'src/server'],
  demo: ['demo', 'src/core', 'src/server'],
};
const TYPES_ONLY: Readonly<Record<string, readonly string[]>> = {
  'src/ui': ['src/server'],
  'src/visitor': ['src/core'],
};
/** Core is pure: no file, network, database, clock or chance of its own. */
const IMPURE = /^(node:|mysql2|playwright|pino|astro|react)/;
const CORE_FORBIDDEN =
  /\bDate\.now\(|\bnew Date\(\)|\bMath\.random\(|\bfetch\(|\bcrypto\.getRandomValues\(|\bprocess\.|\bdocument\.|\bwindow\./;
const IMPORT =
  /^\s*(import|export)\s+(type\s+)?[^'";]*?from\s+['"]([^'"]+)['"]|^\s*import\s+['"]([^'"]+)['"]/gm;

export interface WrongArrow {
  readonly file: string;
  readonly words: string;
}

/** Every import against the arrows of the layers. */
export async function wrongArrows(root: string = PROJECT): Promise<readonly WrongArrow[]> {
  const wrong: WrongArrow[] = [];
  for (const [layer, allowed] of Object.entries(MAY))
    for (const file of await sources(join(root, layer))) {
      const text = await readFile(file, 'utf8');
      const name = relative(root, file);
      wrong.push(...arrowsOf(name, text, layer, allowed));
    }
  return wrong;
}

/** The wrong arrows of one file, named from the project's folder. */
export function arrowsOf(
  name: string,
  text: string,
  layer: string,
  allowed: readonly string[] = MAY[layer] ?? [],
): readonly WrongArrow[] {
  const wrong: WrongArrow[] = [];
  if (/\.test\.tsx?$/.test(name)) return wrong;
  if (layer === 'src/core') {
    const forbidden = CORE_FORBIDDEN.exec(text.replace(/^\s*(\/\/|\*|\/\*).*$/gm, ''));
    if (forbidden) wrong.push({ file: name, words: `core may not use ${forbidden[0]}` });
  }
  for (const match of text.matchAll(IMPORT)) {
    const typeOnly = match[2] !== undefined;
    const from = match[3] ?? match[4] ?? '';
    if (!from.startsWith('.')) {
      if (layer === 'src/core' && IMPURE.test(from))
        wrong.push({ file: name, words: `core may not import ${from}` });
      continue;
    }
    const target = relative(PROJECT, resolve(PROJECT, dirname(name), from));
    const open = [...allowed, ...(typeOnly ? (TYPES_ONLY[layer] ?? []) : [])];
    if (!open.some((folder) => target.startsWith(`${folder}/`)))
      wrong.push({ file: name, words: `${layer} may not import ${target}` });
  }
  return wrong;
}

async function sources(folder: string): Promise<readonly string[]> {
  const entries = await readdir(folder, { withFileTypes: true, recursive: true });
  return entries
    .filter((e) => e.isFile() && /\.(ts|tsx|astro)$/.test(e.name))
    .map((e) => join(e.parentPath, e.name));
}
