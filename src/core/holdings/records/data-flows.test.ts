import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NEW_ACTIVITY, type ActivityContent } from './activity.ts';
import { dataFlows, flowsThrough, type FlowSystem } from './data-flows.ts';

const SYSTEMS: readonly FlowSystem[] = [
  { id: '1', name: 'Booking', country: 'DK', vendors: ['Seatable'] },
  { id: '2', name: 'Cameras', country: '', vendors: ['Lookwell'] },
];
const activity = (id: string, more: Partial<ActivityContent>) => ({
  id,
  content: { ...NEW_ACTIVITY, name: `Activity ${id}`, ...more },
});

describe('who gives what to whom', () => {
  const found = dataFlows(
    [
      activity('1', { people: ['passengers'], data: ['email', 'card'], systems: ['1'] }),
      activity('2', {
        people: ['passengers'],
        data: ['plate', 'email'],
        systems: ['1', '2'],
        recipients: [{ name: 'Lookwell', country: 'US', safeguard: 'none' }],
      }),
      activity('3', {
        people: ['crew'],
        data: ['pay'],
        recipients: [{ name: 'Bank', country: 'GB', safeguard: 'none' }],
      }),
    ],
    SYSTEMS,
  );
  const told = found.flows.map(
    (f) => `${f.from} > ${f.to}: ${f.data.join(', ')} by ${f.activities.join(', ')}`,
  );

  it('goes from people over systems to recipients, vendors and countries', () =>
    expect(told.sort()).toEqual(
      [
        'people passengers > system Booking: card, email, plate by 1, 2',
        'people passengers > system Cameras: email, plate by 2',
        'people crew > system no system that was said: pay by 3',
        'system Booking > recipient Seatable: card, email, plate by 1, 2',
        'system Booking > recipient Lookwell: email, plate by 2',
        'system Cameras > recipient Lookwell: email, plate by 2',
        'system no system that was said > recipient Bank: pay by 3',
        'system Booking > country DK: card, email, plate by 1, 2',
        'recipient Lookwell > country US: email, plate by 2',
        'recipient Bank > country GB: pay by 3',
      ].sort(),
    ));

  it('tells a transfer that nothing makes lawful, and no other', () =>
    expect(
      found.flows
        .filter((f) => f.unlawful)
        .map((f) => f.to)
        .sort(),
    ).toEqual(['country US', 'recipient Lookwell', 'recipient Lookwell']));

  it('is followed both ways from one of them', () => {
    const through = flowsThrough(found, 'recipient Lookwell');
    expect(through.map((f) => `${f.from} > ${f.to}`)).toEqual(
      [
        'people passengers > system Booking',
        'system Booking > recipient Lookwell',
        'people passengers > system Cameras',
        'system Cameras > recipient Lookwell',
        'recipient Lookwell > country US',
      ]
        .filter((t) => found.flows.some((f) => `${f.from} > ${f.to}` === t))
        .sort((a, b) => at(a) - at(b)),
    );
    function at(t: string) {
      return found.flows.findIndex((f) => `${f.from} > ${f.to}` === t);
    }
    expect(flowsThrough(found, 'nobody')).toEqual([]);
  });

  it('never leads in a circle, and names both ends of every flow', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            people: fc.subarray(['a', 'Booking', 'DK']),
            systems: fc.subarray(['1', '2', '9']),
            recipients: fc.array(
              fc.record({
                name: fc.constantFrom('a', 'Booking', 'Seatable', 'US'),
                country: fc.constantFrom('', 'US', 'DK'),
                safeguard: fc.constantFrom('none' as const, 'standard clauses' as const),
              }),
              { maxLength: 3 },
            ),
          }),
          { maxLength: 5 },
        ),
        (all) => {
          const { nodes, flows } = dataFlows(
            all.map((more, i) => activity(String(i), more)),
            SYSTEMS,
          );
          const place = new Map(
            nodes.map((n) => [n.id, ['people', 'system', 'recipient', 'country'].indexOf(n.kind)]),
          );
          for (const f of flows) expect(place.get(f.from)).toBeLessThan(place.get(f.to) ?? -1);
          expect(new Set(nodes.map((n) => n.id)).size).toBe(nodes.length);
        },
      ),
    ));
});
