import { expect, it, test } from 'vitest';
import { installSnippet, installVerdict, type InstallFacts } from './install.ts';

const works: InstallFacts = {
  reached: true,
  position: 0,
  scripts: 4,
  waits: false,
  siteKeyMatches: true,
  started: true,
  noticeShown: true,
  noticeExpected: true,
  error: '',
};
const troubles = (facts: Partial<InstallFacts>) =>
  installVerdict({ ...works, ...facts }).filter((s) => !s.met);

it('is met when the script is first and works', () => {
  expect(troubles({})).toEqual([]);
  expect(installSnippet('https://v.example', 'abc')).toBe('<script src="https://v.example/abc.js"></script>');
});

test.each<[Partial<InstallFacts>, RegExp]>([
  [{ reached: false, error: 'It answered 503' }, /could not be loaded/],
  [{ position: -1 }, /not on the page/],
  [{ position: 2 }, /2 scripts come before/],
  [{ waits: true }, /waits/],
  [{ siteKeyMatches: false }, /another site/],
  [{ started: false }, /does not start/],
  [{ noticeShown: false }, /no notice/],
])('%o is told', (facts, says) => {
  const [trouble] = troubles(facts);
  expect(trouble?.words).toMatch(says);
  expect(trouble?.fix).not.toBe('');
});

it('expects no notice where none is in force', () => {
  expect(troubles({ noticeShown: false, noticeExpected: false })).toEqual([]);
});
