import type { FrameworkFile } from '../../../core/obligations/framework/framework-file.ts';
import { readinessOf, type Tally } from '../../../core/obligations/readiness/readiness.ts';
import {
  measureDifferences,
  versionDifferences,
  type MeasureDifference,
  type VersionDifference,
} from '../../../core/obligations/framework/version-differences.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { z } from 'zod';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { writeSheets } from '../../files/workbook-sheets.ts';
import { workbookSheets } from '../../holdings/offers.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { allAssessments } from '../assessments/assessment-object.ts';
import { heldTo } from '../assessments/take-version.ts';
import { assessAll, readStanding, type Standing } from '../standing.ts';
import { FrameworkLibrary } from './framework-library.ts';
import { frameworkLibrary, hashOf, keepOwnFramework } from './own-frameworks.ts';
import { readFrameworkFile, type FileFault, type ReadFramework } from './read-framework.ts';

/** What taking a file in would do. */
export interface FrameworkPreview {
  readonly id: string;
  readonly name: string;
  readonly version: string;
  readonly controls: number;
  readonly ownMeasures: number;
  readonly notes: readonly string[];
  /** What it is held against: the same version, the one before it, or nothing. */
  readonly is: 'new' | 'a new version' | 'the same version again';
  /** The SHA-256 of what it would replace; null where nothing. */
  readonly before: string | null;
  readonly differences: readonly VersionDifference[];
  readonly measures: readonly MeasureDifference[];
  /** Running assessments whose numbers it would change, from 0 to 100. */
  readonly running: readonly {
    readonly id: number;
    readonly cycle: string;
    readonly before: number | null;
    readonly after: number | null;
  }[];
}

export type Sent =
  | { readonly preview: FrameworkPreview; readonly faults: readonly []; readonly marked: false }
  | { readonly preview: null; readonly faults: readonly FileFault[]; readonly marked: boolean };

/** What is not shown beside the file, and stands in the copy. */
const MOST_FAULTS = 200;

interface Asked {
  readonly upload: number;
  /** Ids of all figures, by which measures can be tested. */
  readonly figures: ReadonlySet<string>;
}

/** Reads a file that was sent, and says all that is wrong with it, or what it would do. */
export async function previewFramework(ctx: Context, account: number, asked: Asked): Promise<Sent> {
  const read = await readSent(ctx, ctx.store, account, asked);
  if (!read.file)
    return { preview: null, faults: read.faults.slice(0, MOST_FAULTS), marked: read.marked !== null };
  const standing = await readStanding(ctx.store, ctx.now());
  const broken = brokenBy(standing.library, read.file);
  if (broken.length > 0) return { preview: null, faults: broken, marked: false };
  return { preview: previewOf(standing, read.file, read.notes), faults: [], marked: false };
}

/**
 * Takes it in: as a new framework, a new version, or in the place of the version that was there, where `before` still is
 * what it was when it was looked at. Throws a RefusedError where anything is wrong with it, or changed meanwhile (409).
 */
export async function takeFramework(
  ctx: Context,
  account: number,
  { before, ...asked }: Asked & { readonly before: string | null },
): Promise<{ readonly id: string }> {
  return ctx.store.transaction(async (tx) => {
    const library = await frameworkLibrary(tx, true);
    const { file, faults } = await readSent(ctx, tx, account, asked);
    const wrong = file ? brokenBy(library, file) : faults;
    if (!file || wrong.length > 0)
      throw new RefusedError(
        `${wrong.length === 1 ? 'One thing is' : `${wrong.length} things are`} wrong with it. Nothing was taken.`,
        wrong.slice(0, 50).map((f) => ({ field: f.at, message: f.message })),
      );
    const was = library.file(file.id, file.version);
    if ((was ? hashOf(was) : null) !== before)
      throw new RefusedError('Somebody took it in meanwhile. Look at what it would do again.', [], 409);
    const kept = await keepOwnFramework(tx, ctx.now(), account, file);
    await holdAgain(tx, file);
    await dropUpload(tx, asked.upload);
    await record(tx, ctx.now(), {
      ...{ actor: account, action: 'framework.take', object: 'framework', objectId: file.id },
      detail: { version: file.version, edition: kept, sha256: hashOf(file), replaces: before },
    });
    return { id: file.id };
  });
}

/** Takes a version of an own one out. Throws a RefusedError (404), or where it is used (409). */
export async function removeFramework(
  ctx: Context,
  account: number,
  id: string,
  version: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const library = await frameworkLibrary(tx, true);
    const file = library.file(id, version);
    if (!file) throw notFound('framework');
    const assessed = (await allAssessments(tx, library)).find(
      (a) => a.framework.id === id && a.framework.version === version,
    );
    if (assessed) throw new RefusedError(`${file.name} is assessed in the cycle ${assessed.cycle}.`, [], 409);
    const left = new FrameworkLibrary(
      library.shipped,
      library.own.filter((f) => f !== file),
    );
    const [broken] = left.broken();
    if (broken) throw new RefusedError(`${broken.by.name} takes parts of it: ${broken.message}`, [], 409);
    await tx.run(
      'UPDATE own_framework SET removed_at = ? WHERE framework = ? AND version = ? AND removed_at IS NULL',
      [toDatetime(ctx.now()), id, version],
    );
    await record(tx, ctx.now(), {
      ...{ actor: account, action: 'framework.remove', object: 'framework', objectId: id },
      detail: { version, sha256: hashOf(file) },
    });
  });
}

/** A file that was sent as a workbook, with all that is wrong marked in it. Throws a RefusedError where it is none. */
export async function markedFramework(ctx: Context, account: number, asked: Asked): Promise<Uint8Array> {
  const { marked } = await readSent(ctx, ctx.store, account, asked);
  if (!marked) throw new RefusedError('It holds nothing that could be shown as a workbook.');
  return writeSheets(marked.sheets, marked.faults);
}

async function readSent(
  ctx: Context,
  store: Queries,
  account: number,
  { upload, figures }: Asked,
): Promise<ReadFramework> {
  const { bytes } = await readUpload(ctx, account, upload);
  const library = await frameworkLibrary(store);
  return readFrameworkFile(bytes, (id) => library.around(id, figures), workbookSheets);
}

const withFile = (library: FrameworkLibrary, file: FrameworkFile) =>
  new FrameworkLibrary(library.shipped, [
    ...library.own.filter((f) => f.id !== file.id || f.version !== file.version),
    file,
  ]);

/** What other own frameworks take from it and would not find any more. */
function brokenBy(library: FrameworkLibrary, file: FrameworkFile): readonly FileFault[] {
  const then = withFile(library, file);
  if (then.circles(file))
    return [{ at: file.id, message: 'What it takes from takes from it: it would come to itself.' }];
  return then
    .broken()
    .filter(({ by }) => by.id !== file.id)
    .map(({ by, at, message }) => ({ at, message: `${by.name}: ${message}` }));
}

function previewOf(standing: Standing, file: FrameworkFile, notes: readonly string[]): FrameworkPreview {
  const { library } = standing;
  const same = library.file(file.id, file.version);
  const old = same
    ? library.framework(file.id, file.version)
    : library.versions(file.id).find((f) => f.version < file.version);
  const after = withFile(library, file);
  const made = after.framework(file.id, file.version);
  if (!made) throw new Error('A framework that was just put there is not there.');
  const oldFile = old && library.file(old.id, old.version);
  const readiness = (tally: Tally | undefined) => (tally ? readinessOf(tally) : null);
  const before = assessAll(standing);
  const then = assessAll({
    ...standing,
    library: after,
    assessments: standing.assessments.map((a) => {
      const framework = after.framework(a.framework.id, a.framework.version);
      return framework ? heldTo(a, framework) : a;
    }),
  });
  return {
    ...{ id: file.id, name: file.name, version: file.version, notes, controls: made.controls.length },
    ownMeasures: file.measures?.length ?? 0,
    is: same ? 'the same version again' : old ? 'a new version' : 'new',
    before: same ? hashOf(same) : null,
    differences: old ? versionDifferences(old, made, new Map([...library.measures, ...after.measures])) : [],
    measures: old ? measureDifferences(oldFile?.measures ?? [], file.measures ?? []) : [],
    running: then.flatMap(({ assessment, readiness: { tally } }, i) => {
      const was = before[i]?.readiness.tally;
      const changed = was?.given !== tally.given || was.applicable !== tally.applicable;
      return changed
        ? [
            {
              ...{ id: assessment.id, cycle: assessment.cycle },
              ...{ before: readiness(was), after: readiness(tally) },
            },
          ]
        : [];
    }),
  };
}

/** Assessments of it lose what they said of controls that are gone. */
async function holdAgain(tx: Queries, file: FrameworkFile): Promise<void> {
  const library = await frameworkLibrary(tx);
  const framework = library.framework(file.id, file.version);
  if (!framework) return;
  const ids = await tx.all(
    z.object({ id: z.number() }),
    'SELECT id FROM assessment WHERE framework = ? AND version = ? FOR UPDATE',
    [file.id, file.version],
  );
  const all = await allAssessments(tx, library);
  for (const { id } of ids) {
    const found = all.find((a) => a.id === id);
    if (found)
      await tx.run('UPDATE assessment SET content = ? WHERE id = ?', [
        JSON.stringify(heldTo(found, framework).content),
        id,
      ]);
  }
}
