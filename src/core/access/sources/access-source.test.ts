import { describe, expect, it } from 'vitest';
import { AccessSourceContent, openingAddress } from './access-source.ts';

const content = (opens: string | undefined) =>
  AccessSourceContent.safeParse({
    name: 'Library',
    everyHours: 2,
    writes: true,
    holds: [],
    ...(opens === undefined ? {} : { opens }),
  });

describe('where places of a source are opened', () => {
  it.each(['', 'https://library.example/open?id={id}', 'http://library.localhost:8731/{id}/view'])(
    'may be %j',
    (opens) => expect(content(opens).data?.opens).toBe(opens),
  );

  it.each([
    'javascript:alert({id})',
    'https://library.example/open',
    '{id}',
    'data:text/html,{id}',
    'ftp://a/{id}',
  ])('may not be %j', (opens) =>
    expect(content(opens).error?.issues[0]?.message).toContain('An address such as'),
  );

  it('is nowhere for a source from before that was asked', () =>
    expect(content(undefined).data?.opens).toBe(''));

  it('names the place as its source does, whatever letters that has', () => {
    const opens = 'https://library.example/open?id={id}';
    expect(openingAddress({ opens }, 'shares/July & "berth 4"#æ')).toBe(
      'https://library.example/open?id=shares%2FJuly%20%26%20%22berth%204%22%23%C3%A6',
    );
    expect(openingAddress({ opens: '' }, 'x')).toBeNull();
  });
});
