import { describe, expect, it } from 'vitest';
import { Refused, Yare } from '../../../docs/client/yare.ts';

/** As openapi-typescript writes them. */
interface Paths {
  '/api/list': {
    get: {
      parameters: { query?: { after?: string; most?: number } };
      responses: { 200: { content: { 'application/json': { rows: number[]; next: string | null } } } };
    };
  };
  '/api/things/{id}': {
    put: {
      parameters: { path: { id: string } };
      requestBody: { content: { 'application/json': { name: string } } };
      responses: { 200: { content: { 'application/json': { done: true } } } };
    };
  };
}

function client(answers: readonly (() => Response)[]) {
  const asked: { url: string; method: string; headers: Headers; body: string }[] = [];
  const fetching = ((url: URL, init: RequestInit) => {
    asked.push({
      ...{
        url: `${url.pathname}${url.search}`,
        method: init.method ?? '',
        headers: new Headers(init.headers),
      },
      body: String(init.body ?? ''),
    });
    const answer = answers[asked.length - 1];
    return answer ? Promise.resolve(answer()) : Promise.reject(new TypeError('fetch failed'));
  }) as unknown as typeof fetch;
  return { yare: new Yare<Paths>('http://desk.example', 'yt_x', fetching), asked };
}
const json = (value: unknown, status = 200, headers: Record<string, string> = {}) =>
  new Response(JSON.stringify(value), {
    status,
    headers: { 'content-type': 'application/json', ...headers },
  });

describe('the client', () => {
  it('sends what writes again with the same key where no answer came, and waits where it is asked to', async () => {
    const { yare, asked } = client([
      () => json({ error: 'too much' }, 429, { 'retry-after': '0' }),
      () => json({ error: 'away' }, 503),
      () => json({ done: true }),
    ]);
    expect(await yare.at('/api/things/{id}').put({ path: { id: 'a/b' }, body: { name: 'N' } })).toEqual({
      done: true,
    });
    expect(asked.map((a) => a.url)).toEqual(Array.from({ length: 3 }, () => '/api/things/a%2Fb'));
    const keys = new Set(asked.map((a) => a.headers.get('idempotency-key')));
    expect([...keys]).toHaveLength(1);
    expect([...keys][0]).toMatch(/^[0-9a-f-]{36}$/);
    expect(asked[0]?.headers.get('authorization')).toBe('Bearer yt_x');
  }, 20_000);

  it('tells a refusal with its fields, at once', async () => {
    const { yare, asked } = client([
      () => json({ error: 'No.', fields: [{ field: 'name', message: 'Longer.' }] }, 400),
    ]);
    const error = await yare
      .at('/api/things/{id}')
      .put({ path: { id: '1' }, body: { name: '' } })
      .catch((e: unknown) => e);
    expect(error).toBeInstanceOf(Refused);
    expect(error).toMatchObject({
      status: 400,
      message: 'No.',
      fields: [{ field: 'name', message: 'Longer.' }],
    });
    expect(asked).toHaveLength(1);
  });

  it('goes through a list page by page', async () => {
    const { yare, asked } = client([
      () => json({ rows: [1, 2], next: 'k' }),
      () => json({ rows: [3], next: null }),
    ]);
    const rows: number[] = [];
    for await (const page of yare.at('/api/list').pages({ query: { most: 2 } })) rows.push(...page.rows);
    expect(rows).toEqual([1, 2, 3]);
    expect(asked.map((a) => a.url)).toEqual(['/api/list?most=2', '/api/list?most=2&after=k']);
    expect(asked[0]?.headers.has('idempotency-key')).toBe(false);
  });
});
