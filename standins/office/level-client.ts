import { z } from 'zod';

const Level = z.object({
  id: z.string(),
  name: z.string(),
  means: z.string(),
  colour: z.string(),
  strength: z.number(),
  goesOn: z.array(z.string()),
});
export type OfferedLevel = z.infer<typeof Level>;
const Offered = z.object({
  person: z.object({ address: z.string(), name: z.string() }),
  levels: z.array(Level),
  start: z.string().nullable(),
});
export type Offered = z.infer<typeof Offered>;
const Asked = z.object({
  total: z.number(),
  proposals: z.array(
    z.object({
      item: z.number(),
      rule: z.string(),
      name: z.string(),
      levelName: z.string(),
      because: z.string(),
    }),
  ),
});
const Read = z.object({ level: z.object({ id: z.string(), name: z.string() }).nullable() });
const Refused = z.object({
  error: z.string(),
  fields: z.array(z.object({ field: z.string(), message: z.string() })),
});

/** What the desk said no to; `fields` name what would do. */
export class LevelRefused extends Error {
  constructor(
    message: string,
    readonly fields: readonly { readonly field: string; readonly message: string }[],
  ) {
    super(message);
  }
}

export interface LevelClient {
  asked(person: string): Promise<z.infer<typeof Asked>>;
  say(wish: { person: string; item: string; rule: string; agree: string; reason: string }): Promise<void>;
  offered(person: string): Promise<Offered>;
  read(bytes: Uint8Array): Promise<{ readonly id: string; readonly name: string } | null>;
  set(
    wish: { person: string; level: string; reason: string; name: string },
    bytes: Uint8Array,
  ): Promise<Uint8Array>;
}

/** Speaks to the desk as any editor could (docs/level-interface.md). */
export function levelClient(origin: string, token: string): LevelClient {
  const ask = async (path: string, body?: Uint8Array): Promise<Response> => {
    let answer: Response;
    try {
      answer = await fetch(new URL(path, origin), {
        method: body ? 'POST' : 'GET',
        headers: {
          authorization: `Bearer ${token}`,
          ...(body ? { 'content-type': 'application/octet-stream' } : {}),
        },
        ...(body ? { body: body as Uint8Array<ArrayBuffer> } : {}),
        signal: AbortSignal.timeout(30_000),
      });
    } catch {
      throw new LevelRefused('The privacy desk does not answer. Try again in a moment.', []);
    }
    if (answer.ok) return answer;
    const refused = Refused.safeParse(await answer.json().catch(() => null));
    throw refused.success
      ? new LevelRefused(refused.data.error, refused.data.fields)
      : new LevelRefused(`The privacy desk said ${answer.status}.`, []);
  };
  return {
    asked: async (person) =>
      Asked.parse(await (await ask(`/interface/levels/proposed?${new URLSearchParams({ person })}`)).json()),
    say: async (wish) => {
      await ask(`/interface/levels/proposed/say?${new URLSearchParams(wish)}`, new Uint8Array());
    },
    offered: async (person) =>
      Offered.parse(await (await ask(`/interface/levels?${new URLSearchParams({ person })}`)).json()),
    read: async (bytes) => Read.parse(await (await ask('/interface/levels/read', bytes)).json()).level,
    set: async (wish, bytes) =>
      new Uint8Array(
        await (await ask(`/interface/levels/set?${new URLSearchParams(wish)}`, bytes)).arrayBuffer(),
      ),
  };
}
