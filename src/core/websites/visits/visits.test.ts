import { readFile } from 'node:fs/promises';
import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { z } from 'zod';
import { FIRST_PURPOSES } from '../notice/purpose.ts';
import { regimeOf } from '../notice/regime.ts';
import { runVerdict } from './run-verdict.ts';
import { stateAt, timeLine, visitDifference } from './time-line.ts';
import { ANSWERS, VisitCourse, type VisitEvent } from './visit.ts';
import { lane, visitEvent } from './visit.fixture.ts';

const of = (code: string) => FIRST_PURPOSES.find((p) => p.code === code) ?? null;
const ran = { ours: false, adapts: false, identifies: true };

test.each([
  ['essential', 'DK', undefined, false, 'permitted', 'without being asked'],
  ['measurement', 'DK', undefined, false, 'too early', 'Directive 2002/58/EC'],
  ['measurement', 'DK', 'waits', false, 'too early', 'may not run unless allowed'],
  ['measurement', 'DK', 'allowed', true, 'permitted', 'had allowed Measurement'],
  ['measurement', 'DK', 'refused', true, 'refused', 'had refused'],
  ['advertising', 'US-CA', 'starts on', false, 'permitted', 'until it is refused'],
  ['advertising', 'US-CA', undefined, false, 'permitted', 'until it is refused'],
  ['advertising', 'US-CA', 'refused', true, 'refused', 'had refused'],
  ['none', 'DK', 'waits', false, 'unsorted', 'Nobody has said'],
] as const)('%s in %s, which %s, answered %s: %s', (code, region, stands, answered, verdict, why) => {
  const state = stands && { [code]: stands };
  const judged = runVerdict({ ...ran, purpose: of(code) }, state, answered, regimeOf(region), region);
  expect(judged.verdict).toBe(verdict);
  expect(judged.why).toContain(why);
});

test.each([
  [{ adapts: true, identifies: false }, 'reduced'],
  [{ adapts: true, identifies: true }, 'too early'],
  [{ ours: true }, 'permitted'],
])('%o before an answer: %s', (over, verdict) => {
  const what = { ...ran, purpose: of('measurement'), ...over };
  expect(runVerdict(what, { measurement: 'waits' }, false, regimeOf('DK'), 'DK').verdict).toBe(verdict);
});

describe('the time line', () => {
  const events = (keys: readonly string[], phase = 0): VisitEvent[] =>
    keys.map((key, i) => visitEvent({ key, phase, at: i * 10 }));

  it('puts the same event of several visitors side by side', () => {
    const rows = timeLine([
      lane('refuse', [...events(['page', 'a', 'notice']), ...events(['refused'], 1)]),
      lane('accept', [...events(['page', 'b', 'a', 'notice']), ...events(['allowed', 'a'], 1)]),
    ]);
    expect(rows.map((r) => `${r.phase} ${r.key} ${Object.keys(r.cells).join('+')}`)).toEqual([
      '0 page refuse+accept',
      '0 b accept',
      '0 a refuse+accept',
      '0 notice refuse+accept',
      '1 refused refuse',
      '1 allowed accept',
      '1 a accept',
    ]);
  });

  it('loses no event and keeps everybody’s order', () => {
    const keys = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.integer({ min: 0, max: 2 })));
    fc.assert(
      fc.property(fc.tuple(keys, keys, keys), (all) => {
        const lanes = all.map((ks, i) =>
          lane(
            ANSWERS[i]!,
            ks.toSorted((x, y) => x[1] - y[1]).map(([key, phase], at) => visitEvent({ key, phase, at })),
          ),
        );
        const rows = timeLine(lanes);
        for (const l of lanes) expect(rows.flatMap((r) => r.cells[l.answer] ?? [])).toEqual(l.events);
        expect(rows.map((r) => r.phase)).toEqual(rows.map((r) => r.phase).toSorted((a, b) => a - b));
      }),
    );
  });

  it('tells how things stood then', () => {
    const all = [
      visitEvent({ key: 'start', what: 'start', purposes: { measurement: 'waits' } }),
      visitEvent({ key: 'sid', what: 'stored', name: 'sid' }),
      visitEvent({ key: 'answer', what: 'answer', phase: 1 }),
      visitEvent({ key: 'state', what: 'state', phase: 1, purposes: { measurement: 'allowed' } }),
      visitEvent({ key: 'uid', what: 'stored', phase: 1, name: 'uid' }),
    ];
    const l = lane('accept', all);
    expect(stateAt(l, all[1]!)).toEqual({
      ...{ purposes: { measurement: 'waits' }, answered: false, told: '', stored: ['sid'] },
    });
    expect(stateAt(l, all[4]!)).toMatchObject({
      ...{ purposes: { measurement: 'allowed' }, answered: true, stored: ['sid', 'uid'] },
    });
  });
});

it('tells what is worse and what is better than in the visit before', () => {
  const bad = (key: string) => visitEvent({ key, verdict: 'too early' });
  const difference = visitDifference(
    [lane('refuse', [bad('pixel'), bad('wave')])],
    [lane('refuse', [bad('wave'), bad('new')]), lane('accept', [visitEvent({ key: 'pixel' })])],
  );
  expect(difference).toEqual({ worse: ['new'], better: ['pixel'] });
});

it('is written down as a schema that readers can keep to', async () => {
  const file = new URL('../../../../docs/visit.schema.json', import.meta.url);
  expect(JSON.parse(await readFile(file, 'utf8'))).toEqual(z.toJSONSchema(VisitCourse, { io: 'output' }));
});
