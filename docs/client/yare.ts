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

/** What can be asked at one address. */
export type At<P> = {
  readonly [M in Method]: (asked: AskOf<OperationOf<P, M>>) => Promise<AnswerOf<OperationOf<P, M>>>;
} & {
  /** The pages of a list, one after the other, from the beginning or from a `next` that was kept. */
  pages(asked: AskOf<OperationOf<P, 'get'>>): AsyncGenerator<AnswerOf<OperationOf<P, 'get'>>>;
};

interface Asked {
  readonly body?: unknown;
  readonly query?: Readonly<Record<string, unknown>>;
  readonly path?: Readonly<Record<string, unknown>>;
  readonly signal?: AbortSignal;
}

const MOST_TRIES = 5;

/** `paths` is that of `schema.ts`. */
export class Yare<paths extends object> {
  constructor(
    readonly origin: string,
    readonly token: string,
    readonly fetching: typeof fetch = fetch,
  ) {}

  /** `yare.at('/api/websites').get({})`: a compiler then looks at that path alone. */
  at<P extends keyof paths & string>(path: P): At<paths[P]> {
    const by = (method: Method) => (asked: Asked) => this.#ask(method, path, asked);
    return {
      ...{ get: by('get'), post: by('post'), put: by('put'), patch: by('patch'), delete: by('delete') },
      pages: (asked: Asked) => this.#pages(path, asked),
    } as unknown as At<paths[P]>;
  }

  /**
   * Asks once, as far as the desk is concerned: what writes has a key, so that it may be sent again where no answer came.
   * Waits where it asks too much. Throws a `Refused`.
   */
  async #ask(method: Method, path: string, { body, query, path: within, signal }: Asked): Promise<unknown> {
    const url = new URL(
      path.replace(/\{([^}]+)\}/g, (_all, name: string) => encodeURIComponent(String(within?.[name]))),
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
        return response.headers.get('content-type')?.startsWith('application/json')
          ? response.json()
          : response.blob();
      const again = response === undefined || response.status === 429 || response.status >= 500;
      if (response && (!again || tries >= MOST_TRIES)) throw await refused(response);
      const asksFor = Number(response?.headers.get('retry-after') ?? 0);
      await new Promise((on) => setTimeout(on, Math.max(asksFor * 1000, 250 * 2 ** tries)));
    }
  }

  async *#pages(path: string, asked: Asked): AsyncGenerator<unknown> {
    for (let after: unknown; ;) {
      const page = await this.#ask('get', path, {
        ...asked,
        query: { ...asked.query, ...(after === undefined ? {} : { after }) },
      });
      yield page;
      after = (page as { next?: unknown }).next;
      if (after === undefined || after === null) return;
    }
  }
}

async function refused(response: Response): Promise<Refused> {
  const said = (await response.json().catch(() => ({}))) as Partial<Refused> & { error?: string };
  const message = said.error ?? `The desk answered ${response.status}.`;
  return new Refused(response.status, message, said.fields ?? [], said.detail);
}
