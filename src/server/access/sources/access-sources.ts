import { z } from 'zod';
import type { AuthorityObject } from '../../../core/accounts/authority.ts';
import {
  AccessAddress,
  AccessSourceContent,
  isDirectory,
  takesAccessSecret,
} from '../../../core/access/sources/access-source.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { sourceNames } from '../../holdings/offers.ts';
import { refuseTakenName } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { sealText } from '../../secret.ts';
import { Bytes, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Kept = AccessSourceContent.omit({ name: true }).extend({ address: AccessAddress });

const Row = z
  .object({
    id: z.number(),
    name: z.string(),
    content: JsonColumn(Kept),
    secret: z.string().nullable(),
    created_at: Instant,
    known_since: Instant.nullable(),
    read_at: Instant.nullable(),
    tried_at: Instant.nullable(),
    problem: z.string().nullable(),
    faults: JsonColumn(z.array(z.string())),
  })
  .transform(({ content: { address, ...rest }, ...row }) => ({
    ...row,
    content: { name: row.name, ...rest } satisfies AccessSourceContent,
    address,
  }));
export type AccessSource = z.infer<typeof Row>;
const COLUMNS = 'id, name, content, secret, created_at, known_since, read_at, tried_at, problem, faults';

/** One that stands. Throws a RefusedError (404). */
export async function findAccessSource(
  store: Queries,
  id: number | string,
  lock = false,
): Promise<AccessSource> {
  const source = await store.one(
    Row,
    `SELECT ${COLUMNS} FROM access_source WHERE id = ? AND removed_at IS NULL${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!source) throw notFound('source of rights');
  return source;
}

export function allAccessSources(store: Queries): Promise<readonly AccessSource[]> {
  return store.all(Row, `SELECT ${COLUMNS} FROM access_source WHERE removed_at IS NULL ORDER BY name`);
}

export const ACCESS_SOURCE: PlainKind<AccessSourceContent> = {
  object: 'access source',
  content: AccessSourceContent,
  async vocabulary(store) {
    const names = new Map((await sourceNames(store)).map((s) => [Number(s.id), s.name]));
    return {
      path: ([first]) => FIELD_WORDS[first as keyof AccessSourceContent],
      value: (value, [first]) => {
        if (first === 'everyHours' && value === null) return 'when somebody asks';
        const holds = first === 'holds' ? Holds.safeParse(value).data : undefined;
        return (
          holds &&
          `${holds.name} in ${holds.source === null ? 'none' : (names.get(holds.source) ?? 'one that is gone')}`
        );
      },
    };
  },
  read: async (store, key, lock) => (await findAccessSource(store, key, lock)).content,
  async write(tx, key, { name, ...rest }, before) {
    const { address } = await findAccessSource(tx, key);
    await refuseTakenName('source of rights', () =>
      tx.run('UPDATE access_source SET name = ?, content = ? WHERE id = ?', [
        name,
        JSON.stringify({ ...rest, address }),
        key,
      ]),
    );
    // Where its items lie is found as it is read.
    if (JSON.stringify(rest.holds) !== JSON.stringify(before.holds)) await haveReadSoon(tx, Number(key));
  },
};

const Holds = AccessSourceContent.shape.holds.element;

/** One that was never tried is read by itself right away. */
export async function haveReadSoon(tx: Queries, id: number): Promise<void> {
  await tx.run('UPDATE access_source SET tried_at = NULL WHERE id = ?', [id]);
}

const FIELD_WORDS: Readonly<Record<keyof AccessSourceContent, string>> = {
  name: 'The name',
  everyHours: 'How often it is read',
  writes: 'Whether it is written to from here',
  opens: 'Where its places are opened',
  holds: 'Where its items lie',
};

export interface NewAccessSource {
  readonly content: AccessSourceContent;
  readonly address: AccessAddress;
  readonly secret: string;
  readonly upload?: Buffer | undefined;
}

/** Throws a RefusedError for a name that is taken. */
export async function insertAccessSource(
  tx: Queries,
  ctx: Context,
  by: number | null,
  { content: { name, ...rest }, address, secret, upload }: NewAccessSource,
): Promise<number> {
  const { id } = await refuseTakenName('source of rights', () =>
    tx.run(
      'INSERT INTO access_source (name, kind, content, secret, upload, created_at) VALUES (?, ?, ?, ?, ?, ?)',
      [
        ...[name, address.kind, JSON.stringify({ ...rest, address })],
        takesAccessSecret(address.kind) ? sealText(ctx.settings.SECRET_KEY, secret) : null,
        upload ?? null,
        toDatetime(ctx.now()),
      ],
    ),
  );
  await record(tx, ctx.now(), {
    actor: by ?? 'system',
    action: 'access-source.add',
    object: 'access source',
    objectId: id,
    detail: { name, kind: address.kind },
  });
  return id;
}

export async function uploadOf(store: Queries, id: number): Promise<Buffer | undefined> {
  const row = await store.one(
    z.object({ upload: Bytes.nullable() }),
    'SELECT upload FROM access_source WHERE id = ?',
    [id],
  );
  return row?.upload ?? undefined;
}

export async function accessSourceObject(
  { store }: Context,
  { id }: { id: number | string },
): Promise<AuthorityObject> {
  const source = await findAccessSource(store, id);
  return { kind: 'access source', id: String(source.id), wholeOf: ['source'] };
}

/** A source as the desk shows it: nothing secret. */
export interface AccessSourceView extends Pick<
  AccessSource,
  'id' | 'name' | 'content' | 'address' | 'problem' | 'faults'
> {
  readonly hasSecret: boolean;
  readonly isDirectory: boolean;
  readonly readAt: string | null;
  readonly triedAt: string | null;
  readonly knownSince: string | null;
  readonly lines: Readonly<Record<string, number>>;
}

export async function viewAccessSources(store: Queries): Promise<readonly AccessSourceView[]> {
  const counts = await store.all(
    z.object({ source_id: z.number(), kind: z.string(), n: Count }),
    'SELECT source_id, kind, COUNT(*) AS n FROM access_line WHERE went = 0 GROUP BY source_id, kind',
  );
  return (await allAccessSources(store)).map((s) => ({
    ...{ id: s.id, name: s.name, content: s.content, address: s.address },
    ...{ problem: s.problem, faults: s.faults },
    hasSecret: s.secret !== null,
    isDirectory: isDirectory(s.address.kind),
    readAt: s.read_at,
    triedAt: s.tried_at,
    knownSince: s.known_since,
    lines: Object.fromEntries(counts.filter((c) => c.source_id === s.id).map((c) => [c.kind, c.n])),
  }));
}
