import { expect, it } from 'vitest';
import { redactDetectorChange } from './redact.ts';

it('masks values that never count, and those of a list, but no pattern', () => {
  const change = (path: string[], after: never) =>
    redactDetectorChange({ path, before: undefined, after }).after;
  expect(JSON.stringify(change(['exclude', 'values'], ['010180-1234'] as never))).not.toContain('010180');
  expect(change(['exclude', 'patterns'], ['0+'] as never)).toEqual(['0+']);
  const checks = [{ check: 'is one of', values: ['Bo Falk-Hansen'], passes: 0, fails: 'drop' }];
  const told = JSON.stringify(change(['checks'], checks as never));
  expect(told).not.toContain('Falk');
  expect(told).toContain('is one of');
  expect(change(['anchor', 'pattern'], 'C\\d{5}' as never)).toBe('C\\d{5}');
});
