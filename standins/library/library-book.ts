import { appendFileSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { rowIdentity } from '../../src/core/access/estate/estate-row.ts';
import { AccessStep } from '../../src/core/access/change/access-change.ts';
import type { GrantLine, LinkLine, PlaceLine } from '../../src/core/access/estate/estate-line.ts';
import type { UseLine } from '../../src/server/access/readers/reader.ts';

export type LibraryLine = PlaceLine | GrantLine | LinkLine | UseLine;

const keyOf = (line: LibraryLine) =>
  line.type === 'use' ? JSON.stringify(['use', line.place, line.person]) : rowIdentity(line);

/** Why a step was not taken. */
export class BookError extends Error {}

/** What a made-up library knows of its places and who may do what there; each step is taken once, and outlives a restart. */
export class LibraryBook {
  readonly #lines = new Map<string, LibraryLine>();
  readonly #taken = new Set<string>();
  readonly #journal: string;

  /** @param file of the lines; steps stand in another beside it. */
  constructor(
    readonly file: string,
    readonly now: () => Date = () => new Date(),
  ) {
    this.#journal = `${file}.steps`;
    if (existsSync(file))
      for (const line of JSON.parse(readFileSync(file, 'utf8')) as LibraryLine[])
        this.#lines.set(keyOf(line), line);
    if (!existsSync(this.#journal)) return;
    for (const text of readFileSync(this.#journal, 'utf8').split('\n').filter(Boolean)) {
      const { id, step, at } = JSON.parse(text) as { id: string; step: AccessStep; at: string };
      this.#do(step, at);
      this.#taken.add(id);
    }
  }

  static write(file: string, lines: readonly LibraryLine[]): void {
    writeFileSync(file, JSON.stringify(lines));
  }

  get lines(): readonly LibraryLine[] {
    return [...this.#lines.values()];
  }

  /** Throws a BookError for a step that does not fit. */
  take(id: string, step: AccessStep): 'done' | 'already' {
    if (this.#taken.has(id)) return 'done';
    const at = this.now().toISOString();
    const did = this.#do(step, at);
    if (did === 'done') {
      appendFileSync(this.#journal, `${JSON.stringify({ id, step, at })}\n`);
      this.#taken.add(id);
    }
    return did;
  }

  #do(step: AccessStep, at: string): 'done' | 'already' {
    switch (step.is) {
      case 'member':
      case 'account':
      case 'list':
        throw new BookError('a library knows places, grants and links alone');
      case 'inherits':
      case 'owner': {
        const key = JSON.stringify(['place', step.place]);
        const place = this.#lines.get(key);
        if (place?.type !== 'place') throw new BookError('there is no such place in the library');
        const after =
          step.is === 'inherits' ? { ...place, inherits: step.after } : { ...place, owner: step.after };
        const isSo = step.is === 'inherits' ? place.inherits === step.after : place.owner === step.after;
        this.#lines.set(key, after);
        return isSo ? 'already' : 'done';
      }
      case 'grant':
      case 'link': {
        const line = step.is === 'grant' ? step.grant : step.link;
        if (!this.#lines.has(JSON.stringify(['place', line.place])))
          throw new BookError('there is no such place in the library');
        const key = keyOf(line);
        const before = this.#lines.get(key);
        if (step.act === 'take') return this.#lines.delete(key) ? 'done' : 'already';
        if (before && step.is === 'grant') return 'already';
        this.#lines.set(key, { ...line, by: 'yare.warden', at });
        return 'done';
      }
    }
  }
}
