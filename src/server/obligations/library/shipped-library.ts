import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { z } from 'zod';
import { Framework, MeasureFile, type Measure } from '../../../core/obligations/framework/framework.ts';
import { libraryFaults, type Library } from '../../../core/obligations/framework/library.ts';
import { projectFolder } from '../../processes/process.ts';

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

let shipped: ShippedLibrary | undefined;

/** The library that ships, by id; read once. */
export class ShippedLibrary {
  readonly measures: ReadonlyMap<string, Measure>;

  constructor(readonly library: Library) {
    this.measures = new Map(library.measures.map((m) => [m.id, m]));
  }

  static get(): ShippedLibrary {
    return (shipped ??= new ShippedLibrary(readLibrary()));
  }

  /** All versions of a framework, the newest first. */
  versions(id: string): readonly Framework[] {
    return this.library.frameworks
      .filter((f) => f.id === id)
      .sort((a, b) => (a.version < b.version ? 1 : -1));
  }

  /** One version, or the newest. */
  framework(id: string, version?: string): Framework | undefined {
    return this.versions(id).find((f) => version === undefined || f.version === version);
  }

  /** The newest of each, by name. */
  newest(): readonly Framework[] {
    return [...new Set(this.library.frameworks.map((f) => f.id))]
      .flatMap((id) => this.framework(id) ?? [])
      .sort((a, b) => a.name.localeCompare(b.name));
  }
}
