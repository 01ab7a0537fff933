import type { Around } from '../../../core/obligations/framework/around.ts';
import { fileFaults } from '../../../core/obligations/framework/framework-faults.ts';
import { resolvedFramework, type FrameworkFile } from '../../../core/obligations/framework/framework-file.ts';
import type { Framework, Measure } from '../../../core/obligations/framework/framework.ts';
import type { Library } from '../../../core/obligations/framework/library.ts';

/** Frameworks and measures by id: those that ship, and the organisation’s own with all that they take in place. */
export class FrameworkLibrary {
  readonly measures: ReadonlyMap<string, Measure>;
  /** The id of the own framework that brings a measure. */
  readonly #bringers = new Map<string, string>();
  readonly #resolved = new Map<string, Framework | undefined>();
  readonly #shipped: ReadonlySet<string>;

  /** `own` are the latest of each version. */
  constructor(
    readonly shipped: Library,
    readonly own: readonly FrameworkFile[] = [],
  ) {
    this.#shipped = new Set(shipped.frameworks.map((f) => f.id));
    const measures = new Map(shipped.measures.map((m) => [m.id, m]));
    // Of several versions the newest says what a measure is.
    for (const file of [...own].sort((a, b) => (a.version < b.version ? -1 : 1)))
      for (const m of file.measures ?? []) {
        measures.set(m.id, m);
        this.#bringers.set(m.id, file.id);
      }
    this.measures = measures;
  }

  /** All versions of a framework, the newest first. */
  versions(id: string): readonly Framework[] {
    return this.#versionsOf(id).flatMap((v) => this.framework(id, v) ?? []);
  }

  /** One version, or the newest. */
  framework(id: string, version?: string): Framework | undefined {
    const wanted = version ?? this.#versionsOf(id)[0];
    const key = `${id} ${wanted}`;
    if (this.#resolved.has(key)) return this.#resolved.get(key);
    const shipped = this.shipped.frameworks.find((f) => f.id === id && f.version === wanted);
    const file = shipped ? undefined : this.file(id, wanted);
    // One that comes to itself in a circle is, there, not there.
    this.#resolved.set(key, undefined);
    const found =
      shipped ??
      (file && resolvedFramework(file, { framework: (of, version) => this.framework(of, version) }));
    this.#resolved.set(key, found);
    return found;
  }

  /** The newest of each, by name. */
  newest(): readonly Framework[] {
    return [...new Set([...this.shipped.frameworks, ...this.own].map((f) => f.id))]
      .flatMap((id) => this.framework(id) ?? [])
      .sort((a, b) => a.name.localeCompare(b.name));
  }

  /** All versions of all. */
  all(): readonly Framework[] {
    return [...this.shipped.frameworks, ...this.own].flatMap((f) => this.framework(f.id, f.version) ?? []);
  }

  isOwn(id: string): boolean {
    return !this.#shipped.has(id) && this.own.some((f) => f.id === id);
  }

  /** An own one as its file has it. */
  file(id: string, version: string | undefined): FrameworkFile | undefined {
    return this.own.find((f) => f.id === id && (version === undefined || f.version === version));
  }

  /** What a file of this framework may name. */
  around(id: string, figures?: ReadonlySet<string>): Around {
    // What only another of its own versions has is not there for it.
    const others = new FrameworkLibrary(
      this.shipped,
      this.own.filter((f) => f.id !== id),
    );
    return {
      framework: (of, version) => others.framework(of, version),
      versions: (of) => others.#versionsOf(of),
      measureOf: (m) => {
        if (!others.measures.has(m)) return undefined;
        const by = others.#bringers.get(m);
        return by === undefined ? 'ships' : (others.framework(by)?.name ?? by);
      },
      ships: (of) => this.#shipped.has(of),
      ...(figures ? { figures } : {}),
    };
  }

  /** What own frameworks name and is not there, by the framework that names it. */
  broken(): readonly { readonly by: FrameworkFile; readonly at: string; readonly message: string }[] {
    return this.own.flatMap((by) =>
      fileFaults(by, this.around(by.id)).map(({ at, message }) => ({ by, at, message })),
    );
  }

  /** Whether it comes to itself through what it takes from. */
  circles(file: FrameworkFile): boolean {
    const seen = new Set<string>();
    const reaches = (one: FrameworkFile): boolean =>
      [...(one.extends ? [one.extends] : []), ...(one.takes ?? [])].some(({ framework, version }) => {
        const key = `${framework} ${version}`;
        if (framework === file.id && version === file.version) return true;
        if (seen.has(key)) return false;
        seen.add(key);
        const next = this.file(framework, version);
        return next !== undefined && reaches(next);
      });
    return reaches(file);
  }

  #versionsOf(id: string): readonly string[] {
    return [...this.shipped.frameworks, ...this.own]
      .filter((f) => f.id === id)
      .map((f) => f.version)
      .sort()
      .reverse();
  }
}
