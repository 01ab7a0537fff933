import { builtInDetectors, Engine } from '../src/core/holdings/offers.ts';
import { parseLens } from '../src/core/lens/lens-text.ts';
import type { Situation, WeighedHandling } from '../src/core/protection/handling/decision.ts';
import { firstHandlingRule } from '../src/core/protection/handling/handling-rule.ts';
import { NamedGroup } from '../src/core/protection/handling/named-group.ts';
import { decideText } from '../src/core/protection/handling/text-decision.ts';
import { figure, median } from './figure.ts';

/** How long a paste of 100 KB waits for what is decided: every detector, then nine rules with a group of 20,000 domains. */
const TIMES = Number(process.env['BENCH_TIMES'] ?? 60);
const SIZE = 100_000;
const GOAL_MS = 50;

const LINES = [
  'Sailing 14 leaves Halmsund at 06:40; the gate closes twenty minutes before.',
  'Ida Kjær asked for a wheelchair at the gangway, ida.kjaer@line.example, +45 20 12 34 56.',
  'Invoice 533401372 of 2026-11-04 was paid by card 4111 1111 1111 1111.',
  'Trailer BX 4471 from Kaltenhagen, 12 pallets, 8,400 kg, lane 4.',
  'Passport AA1234567 of Jonas Ekdal, born 4 May 1981, was seen at the desk.',
];
let text = '';
for (let i = 0; text.length < SIZE; i++) text += `${i}: ${LINES[i % LINES.length]}\n`;

const domains = Array.from({ length: 20_000 }, (_, i) => `host${i}.example`);
const situation: Situation = {
  person: { address: 'a@line.example', groups: new Map([['Staff', 1]]) },
  deviceGroups: new Set(),
  named: new Map([
    ['1', NamedGroup.parse({ name: 'Ours', kind: 'destinations', ours: true, members: domains })],
  ]),
  today: '2026-12-01',
};
const rules = Array.from({ length: 9 }, (_, i): WeighedHandling => ({
  ...{ id: String(i), version: 1, broken: false },
  content: {
    ...firstHandlingRule(`r${i}`, { 'web form': i === 8 ? 'stop' : 'record' }),
    lens: parseLens(`matches:payment-card at least ${i + 1} or people at least ${10 + i}`),
  },
}));
const engine = new Engine(builtInDetectors());
const took: number[] = [];
for (let i = 0; i < TIMES + 5; i++) {
  const begun = performance.now();
  const { decision } = decideText(
    engine,
    text,
    {
      ...{ act: 'paste', channel: 'web form', person: 'a@line.example', program: '', network: '' },
      towards: ['https://shop.elsewhere.example/order'],
    },
    situation,
    rules,
  );
  if (decision.outcome !== 'stop') throw new Error('It was let go.');
  // The first ones warm it.
  if (i >= 5) took.push(performance.now() - begun);
}
figure('handling', `a paste of ${SIZE / 1000} KB decided, median`, median(took), 'ms');
figure('handling', 'of the goal', median(took) / GOAL_MS, '×');
