import { z } from 'zod';
import { DEVICE_LIST } from '../../../core/protection/devices/device-list.ts';
import { CLOCK_OFF_MS, SILENT_DAYS } from '../../../core/protection/devices/device.ts';
import type { Context } from '../../context.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import { Where } from '../../store/where.ts';
import { DEVICE_COLUMNS, DeviceRow, newestBundle, withStanding, type Device } from './devices.ts';

/** As SQL says that a device is behind; `behindBecause` says why. */
function behindSql(newest: number, now: Date): readonly [string, ...(string | number)[]] {
  return [
    "(d.ended_at IS NULL AND (d.seen_at IS NULL OR d.seen_at <= ? OR d.bundle IS NULL OR d.bundle < ? OR ABS(d.ahead_ms) > ? OR d.trouble <> ''))",
    toDatetime(new Date(now.getTime() - SILENT_DAYS * 86_400_000)),
    newest,
    CLOCK_OFF_MS,
  ];
}

function sourceAt(newest: number, now: Date): ListSource<Device> {
  return {
    list: DEVICE_LIST,
    select: DEVICE_COLUMNS,
    from: 'device d',
    row: DeviceRow as unknown as z.ZodType<Device>,
    id: 'd.id',
    sorts: { name: 'd.name' },
    search: ['d.name', 'd.person'],
    filters: {
      standing: (where, standing) => {
        if (standing === 'behind') where.and(...behindSql(newest, now));
        else if (standing === 'silent')
          where.and(
            'd.ended_at IS NULL AND d.seen_at <= ?',
            toDatetime(new Date(now.getTime() - SILENT_DAYS * 86_400_000)),
          );
        else where.and('d.ended_at IS NOT NULL AND 1 = ?', 1);
      },
      group: (where, group) =>
        where.and(
          'EXISTS (SELECT 1 FROM device_membership m WHERE m.device_id = d.id AND m.group_id = ?)',
          /^\d+$/.test(group) ? Number(group) : 0,
        ),
    },
  };
}

/** A page of them, each with why it is behind; the first with how many there are. */
export async function listDevices(ctx: Context, wish: WishInput, after: string | undefined, size: number) {
  const newest = await newestBundle(ctx.store);
  const source = sourceAt(newest, ctx.now());
  const page = await listPage(ctx.store, source, wish, { after, size });
  const rows = page.rows.map((d) => withStanding(d, newest, ctx.now()));
  const total = after === undefined ? await listCount(ctx.store, source, wish) : undefined;
  return { ...page, rows, ...(total === undefined ? {} : { total }), newest };
}

/** How many devices are in step, of all that are in. */
export async function behindCounts({ store, now }: Context): Promise<{ inStep: number; devices: number }> {
  const where = new Where().and(...behindSql(await newestBundle(store), now()));
  const row = await store.one(
    z.object({ behind: Count, devices: Count }),
    `SELECT (SELECT COUNT(*) FROM device d WHERE ${where.sql}) AS behind, (SELECT COUNT(*) FROM device d WHERE d.ended_at IS NULL) AS devices`,
    where.params,
  );
  return { inStep: (row?.devices ?? 0) - (row?.behind ?? 0), devices: row?.devices ?? 0 };
}

/** As a file has it. */
export function deviceCells(d: ReturnType<typeof withStanding>): Readonly<Record<string, Cell>> {
  return {
    ...{ name: d.name, person: d.person, platform: d.platform, seenAt: d.seenAt ?? '' },
    ...{ bundle: d.bundle ?? '', behind: d.behind.join('; ') },
  };
}
