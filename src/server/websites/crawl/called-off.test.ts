import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { untilCalledOff } from './called-off.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const never = () => new Promise<void>(() => {});

describe('work that may be called off', () => {
  it('is waited for, and fails as it fails', async () => {
    await expect(untilCalledOff(Promise.resolve(), new AbortController().signal)).resolves.toBeUndefined();
    await expect(
      untilCalledOff(Promise.reject(new Error('it sank')), new AbortController().signal),
    ).rejects.toThrow('it sank');
  });

  it.each(['before it began', 'in the middle'])(
    'is waited for some seconds more when it is called off %s',
    async (when) => {
      const off = new AbortController();
      if (when === 'before it began') off.abort();
      const over = vi.fn();
      void untilCalledOff(never(), off.signal).then(over);
      off.abort();
      await vi.advanceTimersByTimeAsync(4_900);
      expect(over).not.toHaveBeenCalled();
      await vi.advanceTimersByTimeAsync(200);
      expect(over).toHaveBeenCalled();
    },
  );
});
