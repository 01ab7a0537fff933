import { LANGUAGES } from '../notice/notice-words.ts';
import { parseFragment } from 'parse5';
import { expect, it } from 'vitest';
import { missingIn, NO_ANSWERS, statementBlocks, type StatementGround } from './statement.ts';
import { statementHtml, statementMarkdown } from './statement-formats.ts';
import { PHRASES } from './statement-phrases.ts';

const ground = (over: Partial<StatementGround> = {}): StatementGround => ({
  ...{ site: 'book.example', language: 'en', swept: '2026-11-20', today: '2026-11-30', unsorted: 0 },
  interview: {
    ...{
      controller: 'Brindle Strait',
      address: 'Quay 1',
      contact: 'privacy@strait.example',
      officer: 'I. Abara',
    },
    ...{ authority: 'the authority', automated: 'no', logic: '', mustGive: 'Nothing has to be given.' },
  },
  purposes: [
    { code: 'essential', name: 'Essential', text: 'Keeps you signed in.' },
    { code: 'measurement', name: 'Measurement', text: 'Counts visits.' },
    { code: 'advertising', name: 'Advertising', text: 'Shows offers.' },
  ],
  inventory: [
    {
      purpose: 'measurement',
      kind: 'cookie',
      name: 'uid',
      host: 'wave.example',
      lifetime: 34_214_400,
      text: 'knows you again',
    },
    { purpose: 'essential', kind: 'cookie', name: '<sid>|x', host: 'book.example', lifetime: null, text: '' },
  ],
  activities: [
    {
      ...{
        name: 'Bookings',
        purpose: 'To carry you',
        basis: 'a contract, Art. 6(1)(b)',
        byConsent: false,
        byInterest: false,
      },
      ...{
        data: ['names'],
        recipients: [{ name: 'Ports', country: 'NO', safeguard: 'adequacy' }],
        retention: 'five years',
      },
    },
  ],
  ...over,
});
const whats = (over: Partial<StatementGround> = {}) => missingIn(ground(over)).map((m) => m.what);

it('tells what was found by purpose, and leaves out a purpose that nothing is for', () => {
  const blocks = statementBlocks(ground());
  const headings = blocks.flatMap((b) => (b.is === 'heading' ? [b.text] : []));
  expect(headings).toEqual([
    ...['Privacy on book.example', 'Who answers for it', 'What this site stores and sends', 'Essential'],
    ...['Measurement', 'What we do with data, and why', 'Bookings', 'Your rights'],
  ]);
  expect(blocks.find((b) => b.is === 'table' && b.rows[0]?.[0] === 'uid')).toMatchObject({
    rows: [['uid', 'wave.example', '13 months', 'knows you again']],
  });
});

it('is whole where all is said, and lists with its article what is not', () => {
  expect(whats()).toEqual([]);
  expect(whats({ interview: NO_ANSWERS }).length).toBe(5);
  expect(whats({ swept: '' })).toEqual(['What the site stores, as it is now']);
  expect(whats({ unsorted: 3 })).toEqual(['What 3 trackers are for']);
  expect(whats({ language: 'fi' })).toEqual([]);
  expect(whats({ language: 'is' })).toHaveLength(1);
  const [activity] = ground().activities;
  expect(whats({ activities: [{ ...activity!, retention: '', purpose: '' }] })).toEqual([
    'What for: Bookings',
    'For how long: Bookings',
  ]);
  for (const m of missingIn(ground({ interview: NO_ANSWERS }))) expect(m.law).toMatch(/art\./);
});

it('is HTML and Markdown in which no name is anything but text', () => {
  const hostile = ground({ site: '<img src=x onerror=alert(1)>' });
  const html = statementHtml(statementBlocks(hostile), 'en');
  const names = new Set<string>();
  const walk = (node: { nodeName: string; childNodes?: unknown[] }): void => {
    names.add(node.nodeName);
    for (const c of node.childNodes ?? []) walk(c as never);
  };
  walk(parseFragment(html) as never);
  expect([...names].filter((n) => !/^(#|article|h\d|p|ul|li|table|thead|tbody|tr|t[dh])/.test(n))).toEqual(
    [],
  );
  const markdown = statementMarkdown(statementBlocks(hostile));
  expect(markdown).toContain('\\<sid\\>\\|x');
  expect(markdown).toContain('| uid | wave.example | 13 months | knows you again |');
});

it('has every phrase in each language that ships', () => {
  const keys = Object.keys(PHRASES['en'] ?? {}).toSorted();
  for (const [language, phrases] of Object.entries(PHRASES)) {
    expect(Object.keys(phrases).toSorted(), language).toEqual(keys);
    expect(phrases.rightsList).toHaveLength(5);
  }
});

it('speaks every language whose texts ship, each phrase in its own words', () => {
  const english = PHRASES['en'];
  for (const language of Object.keys(LANGUAGES)) {
    const phrases = PHRASES[language];
    expect(Object.keys(phrases ?? {}), language).toEqual(Object.keys(english ?? {}));
    for (const slot of ['title', 'dated', 'found', 'complain'] as const)
      expect(phrases?.[slot].match(/\{\w+\}/)?.[0], `${language} ${slot}`).toBe(
        english?.[slot].match(/\{\w+\}/)?.[0],
      );
    expect(phrases?.rightsList).toHaveLength(5);
    if (language !== 'en') expect(phrases?.rights, language).not.toBe(english?.rights);
  }
});
