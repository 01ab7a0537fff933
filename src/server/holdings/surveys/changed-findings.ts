import { z } from 'zod';
import type { Json } from '../../../core/rules/change.ts';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { itemPath, type ReadItem } from './survey-step.ts';

const Row = z.object({
  item_id: BigId.transform(Number),
  detector: z.string(),
  rehearsed: z.number(),
  matches: z.number(),
});

/** Of items that did not change, what reading them with other detectors gained and lost. */
export async function changedFindings(store: Queries, read: readonly ReadItem[]): Promise<readonly Json[]> {
  const again = read.filter((r) => r.again && r.known);
  if (again.length === 0) return [];
  const rows = await store.all(
    Row,
    'SELECT item_id, detector, rehearsed, matches FROM finding WHERE item_id IN (?)',
    [again.map((r) => r.known?.id ?? 0)],
  );
  const before = new Map<number, Map<string, number>>();
  for (const r of rows) {
    const of = before.get(r.item_id) ?? new Map<string, number>();
    before.set(r.item_id, of);
    of.set(key(r.detector, r.rehearsed === 1), r.matches);
  }
  return again.flatMap(({ place, item, title, known, outcome, by }): Json[] => {
    if ('unreadable' in outcome || outcome.unchanged) return [];
    const had = before.get(known?.id ?? 0) ?? new Map<string, number>();
    const has = new Map<string, number>([
      ...outcome.findings.map((f): [string, number] => [key(f.detector, false), f.matches]),
      ...outcome.rehearsed.map((f): [string, number] => [key(f.detector, true), f.matches]),
    ]);
    const looked = by.read === 'some' ? new Set(by.detectors) : undefined;
    return [...new Set([...had.keys(), ...has.keys()])].sort().flatMap((k): Json[] => {
      const [detector = '', how] = k.split(' ');
      const [was, now] = [had.get(k) ?? 0, has.get(k) ?? 0];
      if (was === now || (looked && !looked.has(detector))) return [];
      return [
        {
          is: 'changed',
          path: itemPath(place, title ?? item.name).slice(0, 1000),
          item: known?.id ?? 0,
          detector,
          rehearsed: how === 'rehearsed',
          was,
          now,
        },
      ];
    });
  });
}

function key(detector: string, rehearsed: boolean): string {
  return `${detector} ${rehearsed ? 'rehearsed' : 'in-force'}`;
}
