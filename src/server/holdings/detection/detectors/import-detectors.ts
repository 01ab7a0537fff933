import { z } from 'zod';
import { same, type Json } from '../../../../core/rules/change.ts';
import { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { idOf, OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { saveRuleDraft } from '../../../rules/rule-edits.ts';
import * as rules from '../../../rules/rule-store.ts';
import { type Queries } from '../../../store/pool.ts';
import { readDetectorFile } from './detector-file.ts';
import { compileComplaints, newRisks } from '../pattern/pattern-complaints.ts';
import { findOwnDetector, insertDetector, takenIds, DETECTOR } from './own-detectors.ts';

export interface Imported {
  readonly added: readonly string[];
  /** Ids whose draft was changed. */
  readonly changed: readonly string[];
  readonly same: readonly string[];
  /** Ids that were taken by a built-in detector, and what they are called now. */
  readonly renamed: readonly { readonly from: string; readonly to: string }[];
}

/** Takes detectors in as drafts: new ones, and changes to those that are there. All of them, or none. */
export async function importDetectors(ctx: Context, accountId: number, text: string): Promise<Imported> {
  const detectors = readDetectorFile(text);
  for (const [i, d] of detectors.entries()) {
    const complaints = [...(await compileComplaints(d)), ...(await newRisks(d, undefined))];
    if (complaints.length > 0)
      throw new RefusedError(
        `“${d.name}” cannot be taken in.`,
        complaints.map((c) => ({ field: `detectors.${i}.${c.field}`, message: c.message })),
      );
  }
  return ctx.store.transaction(async (tx) => {
    const taken = await takenIds(tx);
    const builtIn = new Set(builtInDetectors().map((d) => d.id));
    const renamed: { from: string; to: string }[] = [];
    for (const d of detectors) {
      if (!builtIn.has(d.id)) continue;
      const to = idOf(d.name, new Set([...taken, ...detectors.map((o) => o.id)]));
      taken.add(to);
      renamed.push({ from: d.id, to });
    }
    const now = (id: string) => renamed.find((r) => r.from === id)?.to ?? id;
    const result = { added: [] as string[], changed: [] as string[], same: [] as string[], renamed };
    for (const d of detectors) {
      const content: OwnDetector = {
        ...d,
        id: now(d.id),
        version: 1,
        context: d.context.map((c) => (c.detector === undefined ? c : { ...c, detector: now(c.detector) })),
      };
      // Locked first: what is compared is what is changed.
      await tx.all(
        z.object({ id: z.string() }),
        "SELECT id FROM rule WHERE kind = 'detector' AND id = ? FOR UPDATE",
        [content.id],
      );
      const there = await findOwnDetector(tx, content.id);
      if (!there) {
        await insertDetector(tx, ctx.now(), accountId, content, '');
        result.added.push(content.id);
      } else if (same(there.content as unknown as Json, content as unknown as Json))
        result.same.push(content.id);
      else {
        await saveRuleDraft(tx, ctx.now(), DETECTOR, accountId, content.id, {
          revision: there.revision,
          base: there.content,
          content,
        });
        result.changed.push(content.id);
      }
    }
    return result;
  });
}

/** As they stand in their drafts. Throws a RefusedError where there is nothing that can be written to a file. */
export async function patternDetectorsToExport(
  store: Queries,
  id: string | undefined,
): Promise<readonly PatternDetector[]> {
  const builtIn = builtInDetectors().find((d) => d.id === id);
  if (builtIn) return [builtIn];
  const rows = (await rules.listRules(store, DETECTOR)).toSorted((a, b) => (a.id < b.id ? -1 : 1));
  const detectors = rows.flatMap((r) =>
    (id === undefined || r.id === id) && r.content.kind === 'pattern' ? [r.content] : [],
  );
  if (detectors.length === 0)
    throw new RefusedError('There is no pattern detector to export.', [
      { field: 'id', message: 'Rosters, known documents and learned detectors stay with their data.' },
    ]);
  return detectors;
}
