import { describe, expect, it, test } from 'vitest';
import { readClickPath, stepLines, writeClickPath } from './click-path.ts';

const TEXT = `go to /account
click "Sign in"
type "ines@ship.example" in #user
type secret "a \\"quoted\\" word" in input[name="password"]
click button.enter
wait for .welcome`;

describe('a path of clicks', () => {
  it('has the line of each of its steps', () => {
    expect(stepLines('\nclick "a"\n\n  \nwait for b\n')).toEqual([2, 5]);
    expect(stepLines(TEXT)).toHaveLength(readClickPath(TEXT).length);
  });

  it('is read a step a line', () => {
    expect(readClickPath(TEXT)).toEqual([
      { act: 'go to', path: '/account' },
      { act: 'click', on: '"Sign in"' },
      { act: 'type', on: '#user', text: 'ines@ship.example', secret: false },
      { act: 'type', on: 'input[name="password"]', text: 'a "quoted" word', secret: true },
      { act: 'click', on: 'button.enter' },
      { act: 'wait for', on: '.welcome' },
    ]);
  });

  it('is written without its secrets, and comes back', () => {
    const written = writeClickPath(readClickPath(TEXT));
    expect(written).not.toContain('quoted');
    expect(writeClickPath(readClickPath(written))).toBe(written);
  });

  test.each(['press hard', 'go to account', 'type in #user', 'click', 'type "x" into #user'])(
    '%s is refused with its line',
    (line) => {
      expect(() => readClickPath(`click #a\n\n${line}`)).toThrow(/^Line 3:/);
    },
  );
});
