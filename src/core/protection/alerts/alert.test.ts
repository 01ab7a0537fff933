import { expect, it } from 'vitest';
import { afterAct, ALERT_STATES, AlertAct, isOpen, type AlertState } from './alert.ts';

const act = (name: AlertAct['act']): AlertAct =>
  AlertAct.parse(
    name === 'assign'
      ? { act: name, to: 1 }
      : name === 'look into'
        ? { act: name }
        : { act: name, note: 'x' },
  );

it.each<[AlertState, AlertAct['act'], AlertState | undefined]>([
  ['new', 'look into', 'looked into'],
  ['new', 'solve', 'solved'],
  ['new', 'set aside', 'set aside'],
  ['new', 'open again', undefined],
  ['new', 'assign', 'new'],
  ['looked into', 'look into', undefined],
  ['looked into', 'solve', 'solved'],
  ['looked into', 'set aside', 'set aside'],
  ['looked into', 'note', 'looked into'],
  ['solved', 'look into', undefined],
  ['solved', 'solve', undefined],
  ['solved', 'set aside', undefined],
  ['solved', 'open again', 'looked into'],
  ['solved', 'assign', undefined],
  ['solved', 'note', 'solved'],
  ['set aside', 'solve', undefined],
  ['set aside', 'open again', 'looked into'],
])('%s, %s: %s', (state, name, to) => {
  const after = afterAct(state, act(name));
  if (to === undefined) expect(after).toHaveProperty('whyNot');
  else expect(after).toBe(to);
});

it('never makes one of what was solved and what was set aside', () => {
  expect(ALERT_STATES.filter(isOpen)).toEqual(['new', 'looked into']);
  for (const from of ['solved', 'set aside'] as const)
    for (const name of ['solve', 'set aside'] as const)
      expect(afterAct(from, act(name))).toHaveProperty('whyNot');
});

it.each(['solve', 'set aside', 'note'] as const)('asks for words to %s', (name) =>
  expect(AlertAct.safeParse({ act: name, note: ' ' }).success).toBe(false),
);
