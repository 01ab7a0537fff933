import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mayLeadTo, plainRich, readRich, writeRich, type RichBlock, type Run } from './rich-text.ts';

const p = (...runs: Run[]): RichBlock => ({ is: 'paragraph', runs });

describe('the text of a notice', () => {
  it.each<[string, readonly RichBlock[]]>([
    ['Plain words.', [p({ text: 'Plain words.' })]],
    [
      'We **never** sell _it_.',
      [
        p(
          { text: 'We ' },
          { text: 'never', strong: true },
          { text: ' sell ' },
          { text: 'it', em: true },
          { text: '.' },
        ),
      ],
    ],
    [
      'See [the policy](https://a.example/p).',
      [p({ text: 'See ' }, { text: 'the policy', href: 'https://a.example/p' }, { text: '.' })],
    ],
    [
      'One\n\n- a\n- **b**',
      [p({ text: 'One' }), { is: 'list', items: [[{ text: 'a' }], [{ text: 'b', strong: true }]] }],
    ],
    ['2 * 3 is a_b', [p({ text: '2 * 3 is a_b' })]],
    ['a ** b', [p({ text: 'a ** b' })]],
    ['\\_not\\_ so', [p({ text: '_not_ so' })]],
    ['[bad](javascript:alert(1))', [p({ text: '[bad](javascript:alert(1))' })]],
    ['[bad](javascript:x)', [p({ text: '[bad](javascript:x)' })]],
    ['[other](//evil.example)', [p({ text: '[other](//evil.example)' })]],
    ['<b>no markup</b>', [p({ text: '<b>no markup</b>' })]],
    ['', []],
  ])('%j', (text, blocks) => {
    expect(readRich(text)).toEqual(blocks);
  });

  const words = fc
    .stringMatching(/^[a-zåø .*_[\]\\<&-]{1,12}$/)
    .filter((t) => t.trim() === t && t !== '' && !t.includes('  '));
  const run = fc.record(
    {
      text: words,
      strong: fc.constant(true as const),
      em: fc.constant(true as const),
      href: fc.constantFrom('https://a.example/x', '/privacy', 'mailto:a@b.example'),
    },
    { requiredKeys: ['text'] },
  );
  // Runs of another manner each, parted by plain words, as an editor leaves them.
  const runs = fc
    .array(run, { minLength: 1, maxLength: 4 })
    .map((all) => all.flatMap((r, i): Run[] => (i === 0 ? [{ text: 'x ' }, r] : [{ text: ' y ' }, r])))
    .map((all) => all.filter((r, i) => r.strong || r.em || r.href || i % 2 === 0))
    // Spaces at the ends of a block are let go.
    .map((all) => [...all, { text: ' z' }]);
  const blocks = fc.array(
    fc.oneof(
      runs.map((r) => p(...joined(r))),
      fc
        .array(runs.map(joined), { minLength: 1, maxLength: 3 })
        .map((items): RichBlock => ({ is: 'list', items })),
    ),
    { minLength: 1, maxLength: 4 },
  );

  it('comes back as it was written, whatever signs it holds', () => {
    fc.assert(
      fc.property(blocks, (all) => {
        expect(readRich(writeRich(all))).toEqual(all);
      }),
    );
  });

  it('is told in words without its signs', () => {
    expect(plainRich('We **never** sell [it](/p).\n\n- a\n- b')).toBe('We never sell it. a; b');
    fc.assert(fc.property(fc.string(), (text) => typeof plainRich(text) === 'string'));
  });

  it('leads nowhere but to the web, the site and mailboxes', () => {
    expect(['https://a.example', '/p', 'mailto:a@b.example'].every(mayLeadTo)).toBe(true);
    expect(['javascript:1', 'data:text/html,x', '//a.example', 'ftp://a', ''].some(mayLeadTo)).toBe(false);
  });
});

/** Neighbours in one manner are one run. */
function joined(runs: readonly Run[]): Run[] {
  return runs.reduce<Run[]>((all, r) => {
    const last = all.at(-1);
    const alike = last && last.strong === r.strong && last.em === r.em && last.href === r.href;
    return alike ? [...all.slice(0, -1), { ...last, text: last.text + r.text }] : [...all, r];
  }, []);
}
