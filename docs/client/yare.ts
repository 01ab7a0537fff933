/**
 * A small client of the interface for programs. Its types come from the OpenAPI document of the desk:
 * `npx openapi-typescript openapi.json -o schema.ts`. Runs in Node.js 20 and in browsers, without packages.
 */

/** What an operation of the document looks like in the types that are made from it. */
interface Operation {
  readonly parameters?: { readonly query?: unknown; readonly path?: unknown };
  readonly requestBody?: { readonly content: { readonly 'application/json': unknown } };
  readonly responses: { readonly 200: { readonly content?: { readonly 'application/json': unknown } } };
}
type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';
type OperationOf<P, M extends Method> = M extends keyof P
  ? P[M] extends Operation
    ? P[M]
    : never
  : never;
type AnswerOf<O extends Operation> = O['responses'][200] extends { content: { 'application/json': infer A } }
  ? A
  : Blob;
type BodyOf<O extends Operation> = O extends {
  requestBody: { content: { 'application/json': infer B } };
}
  ? { body: B }
  : { body?: undefined };
type PathOf<O extends Operation> = O extends { parameters: { path: infer P } } ? { path: P } : { path?: undefined };
type QueryOf<O extends Operation> = O extends { parameters: { query?: infer Q } }
  ? { query?: NonNullable<Q> }
  : { query?: undefined };
type AskOf<O extends Operation> = BodyOf<O> & PathOf<O> & QueryOf<O> & { signal?: AbortSignal };

/** The desk refused: what was wrong, and what would do. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: readonly { readonly field: string; readonly message: string }[],
    readonly detail: unknown,
  ) {
    super(message);
    this.name = 'Refused';
  }
}

const MOST_TRIES = 5;

/** `paths` is that of `schema.ts`. */
export class Yare<paths extends object> {
  constructor(
    readonly origin: string,
    readonly token: string,
    readonly fetching: typeof fetch = fetch,
  ) {}

  /**
   * Asks once, as far as the desk is concerned: what writes has a key, so that it may be sent again where no answer came.
   * Waits where it asks too much. Throws a `Refused`.
   */
  async ask<M extends Method, P extends keyof paths & string>(
    method: M,
    path: P,
    asked: AskOf<OperationOf<paths[P], M>>,
  ): Promise<AnswerOf<OperationOf<paths[P], M>>> {
    const { body, query, path: within = {}, signal } = asked as {
      body?: unknown;
      query?: Record<string, unknown>;
      path?: Record<string, unknown>;
      signal?: AbortSignal;
    };
    const url = new URL(
      path.replace(/\{([^}]+)\}/g, (_all, name: string) => encodeURIComponent(String(within[name]))),
      this.origin,
    );
    for (const [name, value] of Object.entries(query ?? {}))
      if (value !== undefined) url.searchParams.set(name, String(value));
    const request: RequestInit = {
      method: method.toUpperCase(),
      headers: {
        authorization: `Bearer ${this.token}`,
        ...(method === 'get' ? {} : { 'idempotency-key': crypto.randomUUID() }),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      ...(signal ? { signal } : {}),
    };
    for (let tries = 1; ; tries++) {
      const response = await this.fetching(url, request).catch((error: unknown) => {
        if (signal?.aborted || tries >= MOST_TRIES) throw error;
        return undefined;
      });
      if (response?.ok)
        return (
          response.headers.get('content-type')?.startsWith('application/json')
            ? await response.json()
            : await response.blob()
        ) as AnswerOf<OperationOf<paths[P], M>>;
      const again = response === undefined || response.status === 429 || response.status >= 500;
      if (response && (!again || tries >= MOST_TRIES)) throw await refused(response);
      const asksFor = Number(response?.headers.get('retry-after') ?? 0);
      await new Promise((on) => setTimeout(on, Math.max(asksFor * 1000, 250 * 2 ** tries)));
    }
  }

  /** The pages of a list, one after the other, from the beginning or from a `next` that was kept. */
  async *pages<P extends keyof paths & string>(
    path: P,
    asked: AskOf<OperationOf<paths[P], 'get'>>,
  ): AsyncGenerator<AnswerOf<OperationOf<paths[P], 'get'>>> {
    let { query } = asked as { query?: Record<string, unknown> };
    for (;;) {
      const page = await this.ask('get', path, { ...asked, query } as typeof asked);
      yield page;
      const { next } = page as { next?: unknown };
      if (next === undefined || next === null) return;
      query = { ...query, after: next };
    }
  }
}

async function refused(response: Response): Promise<Refused> {
  const said = (await response.json().catch(() => ({}))) as Partial<Refused> & { error?: string };
  const message = said.error ?? `The desk answered ${response.status}.`;
  return new Refused(response.status, message, said.fields ?? [], said.detail);
}
