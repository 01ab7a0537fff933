import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ActivityEvent } from '../activity/event.ts';
import { Use } from './use-report.ts';

let n = 0;
const event = (over: Partial<ActivityEvent> & { rule?: string } = {}): ActivityEvent => {
  const { rule = '1', ...rest } = over;
  const outcome = over.outcome ?? 'ask';
  return ActivityEvent.parse({
    ...{ id: (n++).toString(16).padStart(32, '0'), at: '2026-11-20T08:00:00.000Z', kind: 'device' },
    ...{
      person: 'a@x.example',
      act: 'copy',
      channel: 'removable drive',
      item: { name: 'a.docx', format: 'DOCX' },
    },
    ...{ outcome, rules: outcome === 'go' ? [] : [{ rule, version: 1, wants: outcome }] },
    ...rest,
  });
};

describe('how rules are met', () => {
  it('adds up by rule, way, act, kind of file and day, to the same whole', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            rule: fc.constantFrom('1', '2'),
            outcome: fc.constantFrom('go' as const, 'record' as const, 'ask' as const, 'stop' as const),
            channel: fc.constantFrom('mail' as const, 'printer' as const),
            isFalse: fc.boolean(),
            day: fc.integer({ min: 10, max: 14 }),
          }),
          { maxLength: 60 },
        ),
        (rows) => {
          const use = new Use();
          for (const { isFalse, day, ...rest } of rows)
            use.add(
              event({
                ...rest,
                at: `2026-11-${day}T08:00:00.000Z`,
                answer: isFalse && rest.outcome !== 'go' ? 'false alarm' : null,
              }),
              'Port',
            );
          const report = use.report();
          const held = rows.filter((r) => r.outcome !== 'go');
          expect(report.all.held).toBe(held.length);
          expect(report.all.falseAlarms).toBe(held.filter((r) => r.isFalse).length);
          for (const part of [report.byRule, report.byChannel, report.byAct, report.byFormat])
            expect(part.reduce((sum, p) => sum + p.held, 0)).toBe(held.length);
          expect(report.byDay.reduce((sum, d) => sum + d.asked + d.stopped + d.recorded, 0)).toBe(
            held.length,
          );
        },
      ),
    ));

  it('tells no unit of few people, and no reason that few gave', () => {
    const use = new Use();
    for (let i = 0; i < 6; i++)
      use.add(
        event({
          person: `p${i}@x.example`,
          answer: 'went on',
          reason: i % 2 ? 'For the port.' : 'for the Port',
        }),
        'Port',
      );
    use.add(event({ person: 'alone@x.example', answer: 'went on', reason: 'My wife is ill' }), 'Bridge');
    const { byUnit, reasons, otherReasons, all } = use.report();
    expect(byUnit).toEqual([{ unit: 'Port', people: 6, acts: 6 }]);
    expect(reasons).toEqual([{ words: 'for the Port', n: 6 }]);
    expect([otherReasons, all.wentOn]).toEqual([1, 7]);
  });

  it('knows a piece of text from a file, and says how right it was', () => {
    const use = new Use();
    use.add(event({ item: { ...event().item, name: '', format: 'text' } as never, outcome: 'stop' }), '');
    use.add(event({ outcome: 'stop', answer: 'false alarm' }), '');
    const { byFormat, all } = use.report();
    expect(byFormat.map((f) => f.name).toSorted()).toEqual(['a piece of text', 'docx']);
    expect(all.right?.share).toBe(0.5);
  });
});
