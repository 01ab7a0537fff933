import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { z } from 'zod';
import { Framework, MeasureFile } from '../../../core/obligations/framework/framework.ts';
import { libraryFaults, type Library } from '../../../core/obligations/framework/library.ts';
import { projectFolder } from '../../processes/process.ts';
import { FrameworkLibrary } from './framework-library.ts';

/** What ships: plain files that people can mend. Throws an Error that names the file and all that is wrong. */
export function readLibrary(folder = join(projectFolder(), 'library')): Library {
  const frameworks = readdirSync(join(folder, 'frameworks'))
    .filter((name) => name.endsWith('.json'))
    .sort()
    .map((name) => readFileOf(join(folder, 'frameworks', name), Framework));
  const { measures } = readFileOf(join(folder, 'measures.json'), MeasureFile);
  const library = { frameworks, measures };
  const faults = libraryFaults(library);
  if (faults.length > 0) throw new Error(faults.map((f) => `${f.at}: ${f.message}`).join('\n'));
  return library;
}

function readFileOf<T>(file: string, schema: z.ZodType<T>): T {
  const parsed = schema.safeParse(JSON.parse(readFileSync(file, 'utf8')));
  if (parsed.success) return parsed.data;
  throw new Error(parsed.error.issues.map((i) => `${file}: ${i.path.join('.')}: ${i.message}`).join('\n'));
}

let shipped: FrameworkLibrary | undefined;

/** The library that ships; read once. */
export function shippedLibrary(): FrameworkLibrary {
  return (shipped ??= new FrameworkLibrary(readLibrary()));
}
