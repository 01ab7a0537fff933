import type { Context } from '../../context.ts';
import { csvLine, type Cell } from '../../http/csv.ts';
import type { DossierKind } from './dossier-kind.ts';
import { knowDossier, listDossiers } from './dossiers.ts';

interface Named {
  readonly name: string;
  readonly owner: string;
}

/** The register of a kind, line by line: what is wrong first, as they were known last. */
export async function* registerLines<C extends Named, R, A>(
  ctx: Context,
  kind: DossierKind<C, R, A>,
): AsyncGenerator<string> {
  for await (const cells of registerRows(ctx, kind)) yield csvLine(cells);
}

/** The same as cells. */
export async function* registerRows<C extends Named, R, A>(
  ctx: Context,
  kind: DossierKind<C, R, A>,
): AsyncGenerator<readonly Cell[]> {
  const common = ['number', 'name', 'owner', 'state', 'what comes next', 'by'] as const;
  let more: readonly string[] | undefined;
  for (const { id } of await listDossiers(ctx.store, kind)) {
    const known = await knowDossier(ctx.store, ctx, kind, id).catch(() => undefined);
    // Taken out meanwhile.
    if (!known) continue;
    const cells = kind.cells(known);
    if (!more) {
      more = Object.keys(cells);
      yield [...common, ...more];
    }
    const { state, needs } = kind.progress(known);
    const { name, owner } = known.content;
    const first = needs[0];
    yield [
      ...[kind.number(id), name, owner, state, first?.words ?? '', first?.by ?? ''],
      ...more.map((c) => cells[c] ?? ''),
    ];
  }
  if (!more) yield common;
}
