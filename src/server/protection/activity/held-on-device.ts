import { z } from 'zod';
import type { Queries } from '../../store/pool.ts';
import { eventsSince } from './event-store.ts';

/** Something that was on a device, as its acts tell. */
export interface DeviceItem {
  readonly name: string;
  readonly format: string;
  /** As many as were seen in it at once. */
  readonly people: number;
  readonly findings: readonly { readonly detector: string; readonly matches: number }[];
  /** ISO 8601; the last act with it. */
  readonly lastAt: string;
  readonly acts: number;
}

const NOT_THERE = new Set([
  'sign in',
  'fail to sign in',
  'change access',
  'change',
  'set a level',
  'lower a level',
]);

/** What a device had in hand between two times: what it was let do, with what was found in it; the one with most people first. */
export async function heldOnDevice(
  store: Queries,
  device: number,
  from: Date,
  until: Date,
): Promise<readonly DeviceItem[]> {
  const items = new Map<string, DeviceItem & { gone: boolean }>();
  const row = await store.one(z.object({ person: z.string() }), 'SELECT person FROM device WHERE id = ?', [
    device,
  ]);
  if (!row) return [];
  for await (const part of eventsSince(store, from, until, { person: row.person }))
    for (const { event: e, device: of } of part) {
      if (of !== device || !e.item || NOT_THERE.has(e.act)) continue;
      // What was stopped never came there.
      if (e.outcome === 'stop' || e.answer === 'turned back') continue;
      const key = `${e.item.name}\n${e.item.format}`;
      const known = items.get(key);
      const most = new Map(known?.findings.map((f) => [f.detector, f.matches]));
      for (const f of e.findings) most.set(f.detector, Math.max(most.get(f.detector) ?? 0, f.matches));
      items.set(key, {
        ...{ name: e.item.name || 'text', format: e.item.format, lastAt: e.at, acts: (known?.acts ?? 0) + 1 },
        people: Math.max(known?.people ?? 0, e.item.people),
        findings: [...most].map(([detector, matches]) => ({ detector, matches })),
        gone: e.act === 'delete',
      });
    }
  return [...items.values()]
    .filter((i) => !i.gone)
    .map(({ gone: _gone, ...i }) => i)
    .toSorted((a, b) => b.people - a.people || b.acts - a.acts);
}

/** Devices that were let in, by name. */
export function deviceOptions(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string; readonly person: string }[]> {
  return store.all(
    z.object({ id: z.number(), name: z.string(), person: z.string() }),
    'SELECT id, name, person FROM device ORDER BY name, id LIMIT 2000',
  );
}
