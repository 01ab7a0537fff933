import fc from 'fast-check';
import { CONTROL_KINDS, DUTIES, OWNERS } from './framework.ts';
import type { FrameworkFile } from './framework-file.ts';
import type { Around } from './around.ts';
import { control, framework } from './framework.fixture.ts';

const idText = fc.stringMatching(/^[a-z0-9]{1,6}(?:[.-][a-z0-9]{1,4}){0,2}$/);
/** What people write, with signs that files are apt to lose. */
const words = (most: number) =>
  fc
    .oneof(
      fc.string({ minLength: 1, maxLength: Math.min(most, 40), unit: 'binary' }),
      fc.stringMatching(/^[=+@'-][a-zåøß;,"<&>\n \u00a0]{1,30}[a-z]$/),
      fc.constantFrom('_x0041_', '{{ insert }}', 'yes', '007', '1e5', '2026-11-30', 'a\n  b\n\nc'),
    )
    .map((t) => t.replace(/[\p{Cc}\p{Cs}\ufffe\uffff]/gu, (c) => (c === '\n' || c === '\t' ? c : '')).trim())
    .filter((t) => t !== '' && t.length <= most);

/** Measures that ship, and a framework to take from, for tests. */
export const SHIPPED_MEASURES = ['m1', 'm2', 'm3'] as const;
export const BASE = framework(
  ['1', '2', '3', '4'].map((id) => control(id, ['m1'], { ref: `Art. ${id}`, risk: 3 })),
  { id: 'base', name: 'Base', version: '2025-01-01' },
);
export const AROUND: Around = {
  framework: (id, version) => (id === BASE.id && version === BASE.version ? BASE : undefined),
  versions: (id) => (id === BASE.id ? [BASE.version] : []),
  measureOf: (id) => ((SHIPPED_MEASURES as readonly string[]).includes(id) ? 'ships' : undefined),
  ships: (id) => id === BASE.id,
  figures: new Set(['retention.due', 'websites.leaks']),
};

const measureTest = fc.oneof(
  fc.record({
    figure: fc.constantFrom('retention.due', 'websites.leaks'),
    atMost: fc.integer({ min: 0, max: 99 }),
  }),
  fc.record({
    figure: fc.constant('retention.due'),
    atLeast: fc.constantFrom(0.5, 0.95, 1),
    share: fc.constant(true as const),
  }),
);

/** Files without faults beside `AROUND`. */
export const soundFile: fc.Arbitrary<FrameworkFile> = fc
  .record({
    ids: fc.uniqueArray(idText, { minLength: 1, maxLength: 6 }),
    families: fc.uniqueArray(fc.record({ id: idText, name: words(120) }), {
      minLength: 1,
      maxLength: 3,
      selector: (f) => f.id,
    }),
    own: fc.uniqueArray(idText, { maxLength: 3 }),
    from: fc.constantFrom('nothing', 'extends', 'takes' as const),
    seed: fc.infiniteStream(fc.nat(1000)),
    text: fc.infiniteStream(words(120)),
    tests: fc.infiniteStream(fc.option(measureTest, { nil: undefined })),
    head: fc.record({
      version: fc.constantFrom('2026-01-01', '2024-02-29'),
      regions: fc.uniqueArray(fc.constantFrom('DK', 'US-CA', 'GB'), { maxLength: 3 }),
      whole: fc.boolean(),
    }),
  })
  .map(({ ids, families, own, from, seed, text, tests, head }): FrameworkFile => {
    const pick = <T>(all: readonly T[]): T => all[(seed.next().value as number) % all.length] as T;
    const say = (most: number) => text.next().value.slice(0, most).trim() || 'x';
    const some = () => ({ duty: pick(DUTIES), kind: pick(CONTROL_KINDS), risk: pick([1, 2, 3, 4, 5]) });
    const controls = ids.map((id, i) => ({
      ...{
        id,
        family: (families[i % families.length] ?? families[0])?.id ?? '',
        ref: say(120),
        name: say(120),
      },
      ...{ ...some(), guidance: say(120) },
      // Each of its own is used once, in whichever control has its turn.
      measures: [
        pick(SHIPPED_MEASURES),
        ...own.filter((_, at) => at % ids.length === i).map((m) => `own-${m}`),
      ],
    }));
    const used = new Set(controls.map((c) => c.family));
    const measures = own.map((m) => {
      const test = tests.next().value;
      return {
        ...{ id: `own-${m}`, name: say(120), steps: [say(120), say(80)], evidence: [say(90)] },
        ...{ hours: pick([0.5, 8, 2000]), whose: pick(OWNERS) },
        ...(pick([true, false]) ? { where: '/holdings/records' } : {}),
        ...(test ? { test } : {}),
      };
    });
    return {
      ...{ format: 'yare-framework-1', id: 'crew-code', name: say(80), title: say(120), issuer: say(120) },
      ...{ ...head, covers: say(120), families: families.filter((f) => used.has(f.id)), controls },
      ...(from === 'extends' ? { extends: { framework: 'base', version: '2025-01-01' } } : {}),
      ...(from === 'takes'
        ? { takes: [{ framework: 'base', version: '2025-01-01', controls: ['1', '3'] }] }
        : {}),
      ...(measures.length > 0 ? { measures } : {}),
    };
  });
