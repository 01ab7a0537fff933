import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { notFound } from '../../../core/refusal.ts';
import {
  toldTable,
  TOGETHER,
  TOOL_FORMATS,
  type ToldPerson,
  type ToolFormat,
} from '../../../core/websites/preferences/preference-message.ts';
import { NO_PREFERENCE } from '../../../core/websites/preferences/preference-receipt.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { csvLine } from '../../http/csv.ts';
import { messageCounts, queueBody, queueCall } from '../../outbox/outbox.ts';
import { addWebhook, stopWebhook } from '../../outbox/webhooks.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { askedPage } from './page-kind.ts';
import { personLinks } from './person-link.ts';
import { findPeople } from './preference-person.ts';

export interface NewTool {
  readonly name: string;
  readonly url: string;
  readonly format: ToolFormat;
}

/** Connects a mailing tool, which is told of everybody at once. Its secret is given out this once. */
export async function addTool(
  ctx: Context,
  account: Account,
  { name, url, format }: NewTool,
): Promise<{ readonly id: number; readonly secret: string }> {
  let id = 0;
  const { secret } = await addWebhook(ctx, account, url, async (tx, hook) => {
    ({ id } = await tx.run('INSERT INTO preference_tool (name, hook, format, made_at) VALUES (?, ?, ?, ?)', [
      name,
      hook,
      format,
      toDatetime(ctx.now()),
    ]));
    await tellAll(tx, id);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'mailing-tool.add',
      object: 'mailing tool',
      objectId: id,
      detail: { name, format },
    });
  });
  return { id, secret };
}

const Row = z.object({
  id: z.number(),
  name: z.string(),
  hook: z.number(),
  format: z.enum(TOOL_FORMATS),
  messages: z.number(),
});
type Tool = z.infer<typeof Row>;
const COLUMNS = 'id, name, hook, format, messages';
/** Begins the keys of the messages of a tool. */
const keysOf = (tool: number) => `preferences ${tool} `;

export interface ListedTool extends Pick<Tool, 'id' | 'name' | 'format'> {
  readonly url: string;
  readonly since: string;
  /** People that it has still to be told of, and messages by what became of them. */
  readonly people: number;
  readonly messages: Awaited<ReturnType<typeof messageCounts>>;
}

/** Those that are connected. */
export async function listTools(store: Queries): Promise<readonly ListedTool[]> {
  const rows = await store.all(
    Row.extend({ url: z.string(), made_at: Instant, people: Count }),
    `SELECT t.id, t.name, t.hook, t.format, t.messages, t.made_at, w.url,
       (SELECT COUNT(*) FROM preference_waiting p WHERE p.tool_id = t.id) AS people
     FROM preference_tool t JOIN webhook w ON w.id = t.hook WHERE t.stopped_at IS NULL ORDER BY t.name, t.id`,
  );
  return Promise.all(
    rows.map(async ({ id, name, format, url, made_at, people }) => ({
      ...{ id, name, format, url, since: made_at, people },
      messages: await messageCounts(store, 'webhook', keysOf(id)),
    })),
  );
}

/** Nothing goes there any more. */
export async function stopTool(ctx: Context, account: Account, id: number): Promise<void> {
  const tool = await findTool(ctx.store, id);
  await stopWebhook(ctx, account, tool.hook, async (tx) => {
    await tx.run('UPDATE preference_tool SET stopped_at = ? WHERE id = ?', [toDatetime(ctx.now()), id]);
    await tx.run('DELETE FROM preference_waiting WHERE tool_id = ?', [id]);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'mailing-tool.stop',
      object: 'mailing tool',
      objectId: id,
      detail: { name: tool.name },
    });
  });
}

/** Tells a tool of everybody anew, as after it lost what it had. */
export async function tellToolAll(ctx: Context, account: Account, id: number): Promise<{ people: number }> {
  await findTool(ctx.store, id);
  return ctx.store.transaction(async (tx) => {
    await tellAll(tx, id);
    const people = await tx.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM preference_person');
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'mailing-tool.tell',
      object: 'mailing tool',
      objectId: id,
      detail: { people: people?.n ?? 0 },
    });
    return { people: people?.n ?? 0 };
  });
}

async function findTool(store: Queries, id: number): Promise<Tool> {
  const row = await store.one(
    Row,
    `SELECT ${COLUMNS} FROM preference_tool WHERE id = ? AND stopped_at IS NULL`,
    [id],
  );
  if (!row) throw notFound('mailing tool');
  return row;
}

async function tellAll(tx: Queries, tool: number): Promise<void> {
  await tx.run(
    'INSERT IGNORE INTO preference_waiting (tool_id, person_id) SELECT ?, id FROM preference_person',
    [tool],
  );
}

/** Notes that every tool has to be told of these people, in the transaction of the change. */
export async function tellTools(tx: Queries, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  await tx.run(
    'INSERT IGNORE INTO preference_waiting (tool_id, person_id) SELECT t.id, p.id FROM preference_tool t JOIN preference_person p ON p.id IN (?) WHERE t.stopped_at IS NULL',
    [people],
  );
}

/**
 * Writes the messages that tools wait for: how people stand now, many in one. Whoever changes meanwhile waits anew; two
 * at once write of different people.
 */
export async function writeToolMessages(ctx: Context): Promise<void> {
  const tools = await ctx.store.all(Row, `SELECT ${COLUMNS} FROM preference_tool WHERE stopped_at IS NULL`);
  for (const tool of tools) while ((await writeOne(ctx, tool)) === TOGETHER[tool.format]);
}

async function writeOne(ctx: Context, tool: Tool): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const waiting = await tx.all(
      z.object({ person_id: z.number() }),
      'SELECT person_id FROM preference_waiting WHERE tool_id = ? ORDER BY person_id LIMIT ? FOR UPDATE SKIP LOCKED',
      [tool.id, TOGETHER[tool.format]],
    );
    if (waiting.length === 0) return 0;
    const ids = waiting.map((w) => w.person_id);
    await queueTold(tx, ctx, tool, await toldPeople(tx, ctx, ids));
    await tx.run('DELETE FROM preference_waiting WHERE tool_id = ? AND person_id IN (?)', [tool.id, ids]);
    return ids.length;
  });
}

async function queueTold(
  tx: Queries,
  ctx: Context,
  { id, hook, format }: Tool,
  people: readonly ToldPerson[],
): Promise<void> {
  await tx.run('UPDATE preference_tool SET messages = messages + 1 WHERE id = ?', [id]);
  const row = await tx.one(
    z.object({ n: z.number() }),
    'SELECT messages AS n FROM preference_tool WHERE id = ?',
    [id],
  );
  const call = { key: `${keysOf(id)}${row?.n ?? 0}`, about: { object: 'mailing tool', id }, hook };
  if (format === 'json') {
    const data = {
      people: people.map((p) => ({ ...p, channels: [...p.channels], topics: [...p.topics] })),
    };
    return queueCall(tx, ctx, { ...call, event: 'preferences', data });
  }
  const topics = (await askedPage(tx))?.content.topics ?? [];
  const lines = toldTable(people, topics).map(csvLine).join('');
  return queueBody(tx, ctx, call, 'text/csv; charset=utf-8', lines);
}

/** Tells every tool at once that somebody who is taken out gets nothing any more, in that transaction. */
export async function tellToolsGone(tx: Queries, ctx: Context, person: number): Promise<void> {
  const tools = await tx.all(Row, `SELECT ${COLUMNS} FROM preference_tool WHERE stopped_at IS NULL`);
  const told = await toldPeople(tx, ctx, [person]);
  const at = ctx.now().toISOString();
  for (const tool of tools)
    await queueTold(
      tx,
      ctx,
      tool,
      told.map((p) => ({ ...p, ...NO_PREFERENCE, at, receipt: '' })),
    );
}

/** How people stand, as tools are told. */
export async function toldPeople(
  store: Queries,
  ctx: Context,
  ids: readonly number[],
): Promise<readonly ToldPerson[]> {
  const people = await findPeople(store, ids);
  return people.map(({ id, address, number, name, language, channels, topics, saidAt, receipt }) => ({
    ...{ address, number, name, language, channels, topics },
    ...{ at: saidAt ?? '', receipt: receipt ?? '' },
    ...personLinks(ctx, id),
  }));
}
