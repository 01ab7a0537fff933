import { loadFigureHistory } from './figure-history.ts';
import type { Demo, DemoArea } from '../demo.ts';

/** What is wanted of some figures, and who looks after them. */
const AIMS: readonly (readonly [figure: string, target: number | null, owner: string])[] = [
  ['cases.requests.in-time', 0.95, 'Ines Abara'],
  ['websites.without-leak', 3, 'Priya Nand'],
  ['protection.levelled', 0.6, 'Tove Lindqvist'],
  ['retention.due', 1000, 'Sanne Holt'],
  ['access.wide', 5, 'Magnus Reyer'],
  ['obligations.readiness', 0.75, 'Ines Abara'],
];

async function load(demo: Demo): Promise<void> {
  const { tx } = demo;
  for (const [figure, target, owner] of AIMS)
    await tx.run('INSERT INTO figure_aim (figure, target, owner) VALUES (?, ?, ?)', [
      ...[figure, target, demo.person(owner)],
    ]);
  demo.afterwards(() => loadFigureHistory(demo));
}

export const EVIDENCE: DemoArea = { area: 'evidence', load };
