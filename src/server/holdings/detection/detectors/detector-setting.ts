import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { Context } from '../../../context.ts';
import { NO_DETECTORS } from '../threads/detection-threads.ts';
import type { DetectSetting } from '../threads/detection-thread.ts';
import { readTemplates } from './detector-texts.ts';
import { usedDetectors, type UsedDetector } from './own-detectors.ts';
import { usableRoster } from '../roster/roster-builds.ts';
import { readModel, thresholdOf } from '../learned/trainings.ts';

/**
 * What threads need to read with these detectors: the data that stands behind them, and the detectors that their
 * context asks for. Those whose data is missing are left out.
 */
export async function detectorSetting(
  ctx: Context,
  wanted: readonly Pick<UsedDetector, 'detector' | 'version'>[],
): Promise<DetectSetting> {
  const detectors = new Map<string, PatternDetector>();
  const rosters: DetectSetting['rosters'][number][] = [];
  const likeness: DetectSetting['likeness'][number][] = [];
  const learned: DetectSetting['learned'][number][] = [];
  for (const { detector, version } of wanted)
    switch (detector.kind) {
      case 'pattern':
        detectors.set(detector.id, { ...detector, version });
        break;
      case 'roster': {
        const roster = await usableRoster(ctx, detector, version);
        if (roster) rosters.push(roster);
        break;
      }
      case 'likeness': {
        const texts = await readTemplates(
          ctx,
          detector.id,
          detector.templates.map((t) => t.digest),
        );
        likeness.push({
          id: detector.id,
          version,
          from: detector.from,
          templates: texts.flatMap((t) => (t ? [{ name: t.name, text: t.text }] : [])),
        });
        break;
      }
      case 'learned': {
        if (detector.training === 0) break;
        const { model, figures } = await readModel(ctx.store, detector.id, detector.training);
        learned.push({
          id: detector.id,
          version,
          model: { ...model, threshold: thresholdOf(detector, figures) },
        });
      }
    }
  await addAsked(ctx, detectors);
  return { ...NO_DETECTORS, detectors: [...detectors.values()], rosters, likeness, learned };
}

/** Adds the detectors that are asked for by the context of those there, and what those ask for. */
async function addAsked(ctx: Context, detectors: Map<string, PatternDetector>): Promise<void> {
  const asked = (all: readonly OwnDetector[]) =>
    all.flatMap((d) => (d.kind === 'pattern' ? d.context.flatMap((c) => c.detector ?? []) : []));
  const missing = () => asked([...detectors.values()]).filter((id) => !detectors.has(id));
  const competing = [...detectors.values()].some((d) => d.competes);
  if (missing().length === 0 && !competing) return;
  const own = await usedDetectors(ctx.store);
  const all = new Map(builtInDetectors().map((d) => [d.id, d]));
  for (const u of own) if (u.detector.kind === 'pattern' && !u.rehearsed) all.set(u.detector.id, u.detector);
  // One that yields to surer readings has to meet them.
  if (competing) for (const d of all.values()) if (d.competes && !detectors.has(d.id)) detectors.set(d.id, d);
  for (let open = missing(); open.length > 0;) {
    const next = open.flatMap((id) => all.get(id) ?? []);
    for (const d of next) detectors.set(d.id, d);
    open = asked(next).filter((id) => !detectors.has(id) && all.has(id));
  }
}
