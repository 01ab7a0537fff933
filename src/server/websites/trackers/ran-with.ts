import { z } from 'zod';
import type { RanWith, SwitchRun } from '../../../core/websites/reading/switch-run.ts';
import type { Context } from '../../context.ts';
import type { Queries } from '../../store/pool.ts';
import type { SwitchFound } from '../crawl/sweep-switches.ts';
import type { Sweep } from '../sweeps/sweeps.ts';
import { chunks, trackerIdentity } from './sightings.ts';

/** Stores what each switch of the notice let run, whole or not at all; once more changes nothing. */
export async function storeSwitches(
  ctx: Context,
  sweep: Pick<Sweep, 'id' | 'site_id'>,
  found: readonly SwitchFound[],
): Promise<void> {
  const bits = new Map<string, number>();
  for (const [i, { trackers }] of found.entries())
    for (const t of trackers) {
      const identity = trackerIdentity(t).toString('hex');
      bits.set(identity, (bits.get(identity) ?? 0) | (1 << i));
    }
  const byBits = new Map<number, Buffer[]>();
  for (const [identity, value] of bits)
    byBits.set(value, [...(byBits.get(value) ?? []), Buffer.from(identity, 'hex')]);
  await ctx.store.transaction(async (tx) => {
    const runs: SwitchRun[] = found.map(({ trackers: _trackers, ...run }) => run);
    await tx.run('UPDATE sweep SET switches = ? WHERE id = ?', [JSON.stringify(runs), sweep.id]);
    await tx.run('UPDATE swept_tracker SET ran_with = 0 WHERE sweep_id = ?', [sweep.id]);
    for (const [value, identities] of byBits)
      for (const part of chunks(identities, 500))
        await tx.run(
          'UPDATE swept_tracker s JOIN tracker t ON t.id = s.tracker_id SET s.ran_with = ? WHERE s.sweep_id = ? AND t.site_id = ? AND t.identity IN (?)',
          [value, sweep.id, sweep.site_id, part],
        );
  });
}

/** With which switches each tracker of a sweep ran, by its id; `undefined` where none were tried. */
export async function ranWithIn(
  store: Queries,
  { id, switches }: Pick<Sweep, 'id' | 'switches'>,
): Promise<(trackerId: number) => RanWith | undefined> {
  if (switches.length === 0) return () => undefined;
  const rows = await store.all(
    z.object({ tracker_id: z.number(), ran_with: z.number() }),
    'SELECT tracker_id, ran_with FROM swept_tracker WHERE sweep_id = ? AND ran_with <> 0',
    [id],
  );
  const bits = new Map(rows.map((r) => [r.tracker_id, r.ran_with]));
  return (trackerId) => ({
    with: switches.filter((_, i) => (bits.get(trackerId) ?? 0) & (1 << i)),
    tried: switches.length,
  });
}
