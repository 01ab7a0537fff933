import { describe, expect, it, test } from 'vitest';
import fc from 'fast-check';
import { move, openActs, versionInForce, versionRehearsed, type Act, type Stage } from './rule.ts';

const at = '2026-11-20T09:00:00Z';
const draft: Stage = { state: 'draft' };
const rehearsing: Stage = { state: 'rehearsing', version: 2, since: at, over: { version: 1, since: at } };
const firstRehearsal: Stage = { state: 'rehearsing', version: 1, since: at, over: null };
const inForce: Stage = { state: 'in force', version: 1, since: at };
const paused: Stage = { state: 'paused', version: 1, since: at };
const retired: Stage = { state: 'retired', version: 1, since: at };

test.each<[Stage, Act, string | null]>([
  [draft, { act: 'rehearse', version: 1 }, 'rehearsing'],
  [draft, { act: 'put in force', version: 1 }, 'in force'],
  [draft, { act: 'pause' }, null],
  [rehearsing, { act: 'put in force', version: 2 }, 'in force'],
  [rehearsing, { act: 'put in force', version: 0 }, null],
  [rehearsing, { act: 'end rehearsal' }, 'in force'],
  [firstRehearsal, { act: 'end rehearsal' }, 'draft'],
  [inForce, { act: 'rehearse', version: 2 }, 'rehearsing'],
  [inForce, { act: 'pause' }, 'paused'],
  [inForce, { act: 'resume' }, null],
  [paused, { act: 'resume' }, 'in force'],
  [paused, { act: 'retire' }, 'retired'],
  [retired, { act: 'put in force', version: 2 }, null],
  [retired, { act: 'reopen' }, 'draft'],
  [draft, { act: 'reopen' }, null],
])('%o, asked to %o, becomes %s', (stage, act, state) => {
  const result = move(stage, act, at);
  expect(result.ok ? result.stage.state : null).toBe(state);
  if (!result.ok) expect(result.why).toMatch(/cannot|older/);
});

describe('versions', () => {
  it('keeps the old version in force while the new one rehearses', () => {
    expect(versionInForce(rehearsing)).toBe(1);
    expect(versionRehearsed(rehearsing)).toBe(2);
    expect(versionInForce(firstRehearsal)).toBeUndefined();
    expect(versionInForce(paused)).toBeUndefined();
  });

  it('moves only by open acts, and never puts an older version in force', () => {
    const acts = fc.array(
      fc.oneof(
        fc.record({ act: fc.constant('rehearse' as const), version: fc.integer({ min: 1, max: 9 }) }),
        fc.record({ act: fc.constant('put in force' as const), version: fc.integer({ min: 1, max: 9 }) }),
        fc.constantFrom<Act>(
          { act: 'end rehearsal' },
          { act: 'pause' },
          { act: 'resume' },
          { act: 'retire' },
          { act: 'reopen' },
        ),
      ),
    );
    fc.assert(
      fc.property(acts, (walk) => {
        let stage: Stage = { state: 'draft' };
        for (const act of walk) {
          const before = versionInForce(stage);
          const result = move(stage, act, at);
          expect(result.ok || !openActs(stage).includes(act.act) || act.act === 'put in force').toBe(true);
          if (!result.ok) continue;
          stage = result.stage;
          const after = versionInForce(stage);
          if (before !== undefined && after !== undefined) expect(after).toBeGreaterThanOrEqual(before);
        }
      }),
    );
  });
});
