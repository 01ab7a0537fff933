import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { behindBecause, DeviceTold } from '../../../core/protection/devices/device.ts';
import { CHANNELS } from '../../../core/protection/handling/channel.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { bundleKey } from './bundle-key.ts';

const hashOf = (token: string) => createHash('sha256').update(token).digest();
const newToken = (mark: string) => `${mark}${randomBytes(32).toString('base64url')}`;

export const EnrolmentWish = z.strictObject({
  /** Groups that the devices come into. */
  groups: z.array(z.int().positive()).max(50),
  devices: z.int().min(1, 'At least 1').max(5000, 'At most 5,000'),
  days: z.int().min(1, 'At least 1').max(90, 'At most 90'),
});
export type EnrolmentWish = z.infer<typeof EnrolmentWish>;

/** What lets devices in: a token that is shown once, good for so many devices and days. */
export async function openEnrolment(
  ctx: Context,
  by: number | null,
  { groups, devices, days }: EnrolmentWish,
): Promise<{ readonly token: string; readonly until: string }> {
  const token = newToken('ye_');
  const until = new Date(ctx.now().getTime() + days * 86_400_000);
  await ctx.store.transaction(async (tx) => {
    await requireGroups(tx, groups);
    const { id } = await tx.run(
      'INSERT INTO device_enrolment (token_hash, groups_json, left_over, until, made_by, made_at) VALUES (?)',
      [[hashOf(token), JSON.stringify(groups), devices, toDatetime(until), by, toDatetime(ctx.now())]],
    );
    await record(tx, ctx.now(), {
      actor: by ?? 'system',
      action: 'enrolment.open',
      object: 'device enrolment',
      objectId: id,
      detail: { devices, until: until.toISOString() },
    });
  });
  return { token, until: until.toISOString() };
}

export interface OpenEnrolment {
  readonly id: number;
  /** Devices that may still come in by it. */
  readonly left: number;
  readonly until: string;
  readonly madeBy: string | null;
}

/** Those that still let devices in, the one that ends first before the others. */
export function openEnrolments({ store, now }: Context): Promise<readonly OpenEnrolment[]> {
  return store.all(
    z.object({ id: z.number(), left: z.number(), until: Instant, madeBy: z.string().nullable() }),
    `SELECT e.id, e.left_over AS \`left\`, e.until, a.name AS madeBy FROM device_enrolment e
     LEFT JOIN account a ON a.id = e.made_by WHERE e.left_over > 0 AND e.until > ? ORDER BY e.until, e.id LIMIT 200`,
    [toDatetime(now())],
  );
}

/** Lets nobody in by it any more. Throws a RefusedError (404) for one that lets nobody in. */
export async function endEnrolment(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE device_enrolment SET left_over = 0 WHERE id = ? AND left_over > 0 AND until > ?',
      [id, toDatetime(ctx.now())],
    );
    if (changed === 0) throw notFound('open token');
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'enrolment.end', object: 'device enrolment', objectId: id, detail: {} },
    });
  });
}

async function requireGroups(tx: Queries, groups: readonly number[]): Promise<void> {
  for (const id of groups)
    if (!(await tx.one(z.object({ id: z.number() }), 'SELECT id FROM device_group WHERE id = ?', [id])))
      throw new RefusedError('This group of devices is gone.', [
        { field: 'groups', message: 'Choose groups that there are.' },
      ]);
}

export interface Enrolled {
  readonly device: number;
  /** Shown once; it opens the interface for devices. */
  readonly token: string;
  /** That its bundles are signed with: Ed25519, base64url. */
  readonly key: string;
}

/** The enrolment whose token this is. Throws a RefusedError (401) for one that is none, is used up, or over. */
export async function enrolmentOf(
  ctx: Context,
  authorization: string | null,
): Promise<{ readonly id: number }> {
  const [, token] = /^Bearer (ye_[\w-]{43})$/.exec(authorization ?? '') ?? [];
  const row =
    token === undefined
      ? undefined
      : await ctx.store.one(
          z.object({ id: z.number() }),
          'SELECT id FROM device_enrolment WHERE token_hash = ? AND left_over > 0 AND until > ?',
          [hashOf(token), toDatetime(ctx.now())],
        );
  if (!row) throw new RefusedError('This token lets no device in: it is used up, or over.', [], 401);
  return row;
}

/** Lets a device in. Throws a RefusedError (401) where another was the last that could come in. */
export async function enrolDevice(ctx: Context, enrolment: number, told: DeviceTold): Promise<Enrolled> {
  const token = newToken('yd_');
  const device = await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run(
      'UPDATE device_enrolment SET left_over = left_over - 1 WHERE id = ? AND left_over > 0',
      [enrolment],
    );
    const row =
      changed === 0
        ? undefined
        : await tx.one(
            z.object({ groups_json: JsonColumn(z.array(z.number())) }),
            'SELECT groups_json FROM device_enrolment WHERE id = ?',
            [enrolment],
          );
    if (!row) throw new RefusedError('This token lets no device in: it is used up.', [], 401);
    const id = await insertDevice(tx, ctx.now(), told, hashOf(token));
    for (const group of row.groups_json)
      await tx.run(
        'INSERT IGNORE INTO device_membership (device_id, group_id) SELECT ?, id FROM device_group WHERE id = ?',
        [id, group],
      );
    await record(tx, ctx.now(), {
      ...{ actor: 'system', action: 'device.enrol', object: 'device', objectId: id },
      detail: { enrolment, platform: told.platform, can: told.can },
    });
    return id;
  });
  return { device, token, key: bundleKey(ctx) };
}

export async function insertDevice(
  tx: Queries,
  now: Date,
  { name, person, platform, can }: DeviceTold,
  tokenHash: Buffer = randomBytes(32),
): Promise<number> {
  const { id } = await tx.run(
    'INSERT INTO device (name, person, platform, token_hash, can, enrolled_at) VALUES (?)',
    [[name, person, platform, tokenHash, JSON.stringify(can), toDatetime(now)]],
  );
  return id;
}

const Row = z
  .object({
    id: z.number(),
    name: z.string(),
    person: z.string(),
    platform: z.string(),
    can: JsonColumn(z.array(z.enum(CHANNELS))),
    enrolled_at: Instant,
    seen_at: Instant.nullable(),
    bundle: z.number().nullable(),
    bundle_at: Instant.nullable(),
    ahead_ms: z.number(),
    trouble: z.string(),
    ended_at: Instant.nullable(),
  })
  .transform((r) => ({
    ...{ id: r.id, name: r.name, person: r.person, platform: r.platform, can: r.can },
    ...{ enrolledAt: r.enrolled_at, seenAt: r.seen_at, bundle: r.bundle, bundleAt: r.bundle_at },
    ...{ aheadMs: r.ahead_ms, trouble: r.trouble, endedAt: r.ended_at },
  }));
export type Device = z.infer<typeof Row>;

export const DEVICE_COLUMNS =
  'd.id, d.name, d.person, d.platform, d.can, d.enrolled_at, d.seen_at, d.bundle, d.bundle_at, d.ahead_ms, d.trouble, d.ended_at';
export const DeviceRow = Row;

/** Throws a RefusedError (404). */
export async function readDevice(store: Queries, id: number, lock = false): Promise<Device> {
  const device = await store.one(
    Row,
    `SELECT ${DEVICE_COLUMNS} FROM device d WHERE d.id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!device) throw notFound('device');
  return device;
}

/** The device whose token this is. Throws a RefusedError (401). */
export async function deviceOf(store: Queries, authorization: string | null): Promise<Device> {
  const [, token] = /^Bearer (yd_[\w-]{43})$/.exec(authorization ?? '') ?? [];
  const device =
    token === undefined
      ? undefined
      : await store.one(
          Row,
          `SELECT ${DEVICE_COLUMNS} FROM device d WHERE d.token_hash = ? AND d.ended_at IS NULL`,
          [hashOf(token)],
        );
  if (!device)
    throw new RefusedError('Send the token of a device that is let in: Authorization: Bearer yd_…', [], 401);
  return device;
}

/** Its token opens nothing any more; what it told stays. */
export async function endDevice(ctx: Context, by: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const device = await readDevice(tx, id, true);
    if (device.endedAt !== null) throw new RefusedError('This device is out already.', [], 409);
    await tx.run('UPDATE device SET ended_at = ? WHERE id = ?', [toDatetime(ctx.now()), id]);
    await record(tx, ctx.now(), {
      actor: by,
      action: 'device.end',
      object: 'device',
      objectId: id,
      detail: {},
    });
  });
}

/** The groups a device is in. */
export async function groupsOfDevice(store: Queries, id: number): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ group_id: z.coerce.string() }),
    'SELECT group_id FROM device_membership WHERE device_id = ? ORDER BY group_id',
    [id],
  );
  return rows.map((r) => r.group_id);
}

/** Says in which groups devices are, in the place of those before. */
export async function groupDevices(
  ctx: Context,
  by: number,
  { devices, groups }: { readonly devices: readonly number[]; readonly groups: readonly number[] },
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await requireGroups(tx, groups);
    for (const id of devices) {
      await readDevice(tx, id, true);
      await tx.run('DELETE FROM device_membership WHERE device_id = ?', [id]);
      if (groups.length > 0)
        await tx.run('INSERT INTO device_membership (device_id, group_id) VALUES ?', [
          groups.map((g) => [id, g]),
        ]);
      await record(tx, ctx.now(), {
        ...{ actor: by, action: 'device.group', object: 'device', objectId: id, detail: { groups } },
      });
    }
  });
}

/** The number of the bundle that devices should have. */
export async function newestBundle(store: Queries): Promise<number> {
  const row = await store.one(
    z.object({ n: z.number().nullable() }),
    'SELECT MAX(number) AS n FROM rule_bundle',
  );
  return row?.n ?? 0;
}

/** With why it is behind, none where it is in step. */
export function withStanding(device: Device, newest: number, now: Date) {
  return { ...device, behind: behindBecause(device, newest, now.getTime()) };
}

/** A device with its groups. Throws a RefusedError (404). */
export async function viewDevice(ctx: Context, id: number) {
  const device = await readDevice(ctx.store, id);
  const groups = await groupsOfDevice(ctx.store, id);
  return { ...withStanding(device, await newestBundle(ctx.store), ctx.now()), groups };
}
