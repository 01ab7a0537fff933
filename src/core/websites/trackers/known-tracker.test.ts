import { describe, expect, it, test } from 'vitest';
import { FIRST_LIBRARY, KnownTracker, TrackerLibrary } from './known-tracker.ts';

const entry = (over: Partial<KnownTracker>) =>
  KnownTracker.parse({ name: 'uid', purpose: 'measurement', ...over });
const cookie = (name: string, host = 'count.a.example') => ({ kind: 'cookie' as const, name, host });

describe('the library', () => {
  it('takes the closest fit: domain, kind, exact name, longer pattern', () => {
    const library = new TrackerLibrary([
      entry({ name: '.*', match: 'expression', provider: 'any' }),
      entry({ name: 'u*', match: 'wildcard', provider: 'short' }),
      entry({ name: 'uid_*', match: 'wildcard', provider: 'long' }),
      entry({ name: 'uid', provider: 'exact' }),
      entry({ name: 'uid', kind: 'cookie', provider: 'kind' }),
      entry({ name: 'uid', domain: 'b.example', provider: 'domain' }),
    ]);
    const providers = [
      cookie('uid', 'x.b.example'),
      cookie('uid'),
      { ...cookie('uid'), kind: 'local storage' as const },
      cookie('uid_1'),
      cookie('ux'),
      cookie('zz'),
    ].map((k) => library.find(k)?.provider);
    expect(providers).toEqual(['domain', 'kind', 'exact', 'long', 'short', 'any']);
  });

  it('knows no domain by its end alone, and no part of a name', () => {
    const library = new TrackerLibrary([
      entry({ domain: 'a.example' }),
      entry({ name: 'ab+c', match: 'expression' }),
    ]);
    expect(library.find(cookie('uid', 'nota.example'))).toBeUndefined();
    expect(library.find(cookie('xabbc'))).toBeUndefined();
    expect(library.find(cookie('abbc'))).toBeDefined();
  });

  test.each([['(a+)+$'], ['(x*)*y'], ['(.*a){20}']])('%s cannot hang it', (name) => {
    const library = new TrackerLibrary([entry({ name, match: 'expression' })]);
    expect(library.find(cookie('a'.repeat(300) + '!'))).toBeUndefined();
  });

  test.each([['('], ['(?<=a)b'], ['a\\1'], ['[z-a]']])('%s is refused, by name', (name) => {
    const read = KnownTracker.safeParse({ name, match: 'expression', purpose: 'measurement' });
    expect(read.error?.issues[0]).toMatchObject({ path: ['name'] });
  });

  it('begins with names of common servers, all of them essential', () => {
    const library = new TrackerLibrary(FIRST_LIBRARY);
    expect(library.find(cookie('PHPSESSID'))?.purpose).toBe('essential');
    expect(FIRST_LIBRARY.every((e) => e.purpose === 'essential')).toBe(true);
  });
});
