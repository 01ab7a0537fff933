import { expect, it, test } from 'vitest';
import { cssFaults } from './own-css.ts';

test.each([
  '',
  'h2 { color: #123456; letter-spacing: .02em }',
  'button, summary { border-radius: 0; text-transform: uppercase }\nbutton:hover { background-color: teal }',
  '@media (max-width: 30rem) { p { font-size: 15px } }',
])('takes %j', (css) => {
  expect(cssFaults(css)).toEqual([]);
});

test.each([
  ['button { display: none }', 'display is not for a notice'],
  ['button { opacity: 0 }', 'opacity'],
  ['button:first-child { color: red }', ':first-child'],
  ['button + button { color: red }', '+ could tell'],
  ['button[data-choice=refuse] { font-size: 8px }', 'one answer could be told'],
  ['.buttons { color: red }', 'one answer could be told'],
  ['h2::after { color: red }', '::after'],
  ['p { background-color: url(//spy.example/x) }', 'fetches nothing'],
  ['@import "//spy.example/x.css";', '@import'],
  ['@font-face { font-family: x; src: url(x) }', '@font-face'],
  ['main { color: red }', 'has no “main”'],
  ['p { color: 12 }', 'takes no 12'],
  ['p { color: red; } }', 'cannot be read'],
])('refuses %j', (css, says) => {
  expect(
    cssFaults(css)
      .map((f) => f.words)
      .join('\n'),
  ).toContain(says);
});

it('tells the line', () => {
  expect(cssFaults('p { color: red }\n\nbutton { position: fixed }')).toEqual([
    { line: 3, words: 'position is not for a notice' },
  ]);
});
