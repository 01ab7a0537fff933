import { expect, it } from 'vitest';
import { RuleBundle, situationOf } from '../devices/rule-bundle.ts';
import { decide, type Situation, type WeighedHandling } from './decision.ts';
import { firstHandlingRule, HandlingRuleContent, type Step } from './handling-rule.ts';
import { keptOf } from './keeping.ts';
import { Motion } from './motion.ts';

const rule = (
  id: string,
  step: Step,
  keeps: { copy?: boolean; quarantine?: boolean; days?: number },
): WeighedHandling => ({
  ...{ id, version: 1, broken: false },
  content: {
    ...firstHandlingRule(id, { 'removable drive': step }),
    keeps: { copy: false, quarantine: false, openers: [], days: 30, ...keeps },
  },
});
const motion = (name: string) =>
  Motion.parse({
    ...{ act: 'copy', channel: 'removable drive', person: 'a@x.example', towards: ['Noname 1'] },
    ...{ item: { name }, findings: [] },
  });
const where: Situation = {
  person: { address: 'a@x.example', groups: new Map() },
  ...{ deviceGroups: new Set(), named: new Map(), today: '2026-12-01' },
};

it.each<[string, readonly WeighedHandling[], string, object | undefined]>([
  ['nothing', [rule('1', 'stop', {})], 'list.xlsx', undefined],
  [
    'a copy of what is recorded',
    [rule('1', 'record', { copy: true })],
    'list.xlsx',
    { what: 'copy', rule: '1' },
  ],
  [
    'the file that is stopped',
    [rule('1', 'stop', { quarantine: true })],
    'a.xlsx',
    { what: 'quarantine', rule: '1' },
  ],
  ['not a text that has no place', [rule('1', 'stop', { quarantine: true })], '', undefined],
  [
    'not the file that somebody is asked about',
    [rule('1', 'ask', { quarantine: true })],
    'a.xlsx',
    undefined,
  ],
  [
    'the copy of a rule beside the one that decides',
    [rule('1', 'stop', {}), rule('2', 'record', { copy: true, days: 9 })],
    'a.xlsx',
    { what: 'copy', rule: '2', days: 9 },
  ],
  [
    'as long as the longest asks',
    [rule('1', 'record', { copy: true, days: 9 }), rule('2', 'record', { copy: true, days: 90 })],
    'a.xlsx',
    { what: 'copy', rule: '2', days: 90 },
  ],
  [
    'the file rather than a copy',
    [rule('1', 'stop', { quarantine: true, copy: true })],
    'a.xlsx',
    { what: 'quarantine' },
  ],
])('keeps %s', (_, rules, name, kept) => {
  const found = keptOf(decide(motion(name), where, rules), motion(name), rules);
  if (kept) expect(found).toMatchObject(kept);
  else expect(found).toBeUndefined();
});

it('lets whoever has a pass by, and says so', () => {
  const rules = [rule('1', 'stop', {}), rule('2', 'ask', {})];
  const { outcome, weighed } = decide(motion('a'), { ...where, passes: new Set(['1']) }, rules);
  expect(outcome).toBe('ask');
  expect(weighed.find((w) => w.rule === '1')?.failed).toBe('pass');
});

it('reads a rule of before, which kept and raised nothing', () => {
  const { keeps: _keeps, alert: _alert, first: _first, ...before } = firstHandlingRule('x', { mail: 'ask' });
  expect(HandlingRuleContent.parse(before)).toMatchObject({
    keeps: { copy: false, quarantine: false },
    alert: null,
  });
});

it('holds for those alone that it begins with, and counts for the others', () => {
  const [begun] = [rule('1', 'stop', {})];
  const first = { ...begun, content: { ...begun.content, first: ['group:clerks'] } };
  const bundle = (groups: [string, number][]) =>
    situationOf(
      RuleBundle.parse({
        ...{
          number: 1,
          madeAt: '2026-12-01T00:00:00.000Z',
          device: 1,
          named: [],
          deviceGroups: [],
          levels: [],
        },
        rules: [{ ...first, rehearsing: false }],
        person: { address: 'a@x.example', groups },
      }),
      '2026-12-01T10:00:00.000Z',
    );
  const outcomes = (groups: [string, number][]) => {
    const { situation, rules, counted } = bundle(groups);
    return [rules, counted].map((r) => decide(motion('a'), situation, r).outcome);
  };
  expect(outcomes([['clerks', 1]])).toEqual(['stop', 'go']);
  expect(outcomes([['bridge', 1]])).toEqual(['go', 'stop']);
});
