import { z } from 'zod';
import { isOpen, ALERT_STATES } from '../../../core/protection/alerts/alert.ts';
import { RAISED } from '../../../core/protection/alerts/letter.ts';
import { CATEGORIES, SEVERITIES } from '../../../core/protection/lookouts/lookout.ts';
import { tellingDay } from '../../../core/protection/lookouts/telling.ts';
import type { Context } from '../../context.ts';
import { queueCall, queueMail } from '../../outbox/outbox.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { LOOKOUT } from '../lookouts/lookouts.ts';
import { listHooks } from '../lookouts/hooks.ts';
import { addStep } from './raise-alert.ts';

const Due = z.object({
  id: z.number(),
  lookout: z.string(),
  version: z.number(),
  severity: z.enum(SEVERITIES),
  category: z.enum(CATEGORIES),
  because: z.string(),
  state: z.enum(ALERT_STATES),
  acts: z.number(),
  raised_at: Instant,
});
const AT_ONCE = 50;

/** Tells whoever lookouts tell of what they raised, once the time for it has come; how many alerts that was. */
export async function tellOfAlerts(ctx: Context): Promise<number> {
  for (let told = 0; ;) {
    const part = await ctx.store.transaction(async (tx) => {
      const due = await tx.all(
        Due,
        `SELECT id, lookout, version, severity, category, because, state, acts, raised_at FROM alert
         WHERE tell_at <= ? ORDER BY tell_at, id LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED`,
        [toDatetime(ctx.now())],
      );
      for (const alert of due) await tellOne(tx, ctx, alert);
      return due.length;
    });
    told += part;
    if (part < AT_ONCE) return told;
  }
}

async function tellOne(tx: Queries, ctx: Context, alert: z.infer<typeof Due>): Promise<void> {
  const now = ctx.now();
  const { id, severity, category, because, acts } = alert;
  await tx.run('UPDATE alert SET tell_at = NULL WHERE id = ?', [id]);
  const { name, tell } = await readRuleVersion(tx, LOOKOUT, alert.lookout, alert.version);
  const hooks = (await listHooks(tx)).filter((h) => tell.hooks.includes(String(h.id)));
  if (tell.mail.length + hooks.length === 0) return;
  if (!isOpen(alert.state)) return addStep(tx, now, id, 'not told', null, `It was ${alert.state} before.`);
  const day = tellingDay(tell, now);
  const counted = await tx.one(
    z.object({ n: z.number() }),
    'SELECT n FROM lookout_told WHERE lookout = ? AND day = ? FOR UPDATE',
    [alert.lookout, day],
  );
  if ((counted?.n ?? 0) >= tell.mostADay)
    return addStep(
      tx,
      now,
      id,
      'not told',
      null,
      `It told ${tell.mostADay === 1 ? 'once' : `${tell.mostADay} times`} that day already.`,
    );
  await tx.run(
    'INSERT INTO lookout_told (lookout, day, n) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE n = n + 1',
    [alert.lookout, day],
  );
  const about = { object: 'alert', id };
  const link = `${ctx.settings.WEB_ORIGIN}/protection/alerts/${id}`;
  for (const to of tell.mail)
    await queueMail(tx, ctx, {
      ...{ key: `alert ${id} ${to}`, about, to, template: RAISED },
      values: { lookout: name, severity, category, number: id, because, link },
    });
  for (const hook of hooks)
    await queueCall(tx, ctx, {
      ...{ key: `alert ${id} hook ${hook.id}`, about, hook: hook.id, event: 'alert.raised' },
      data: { alert: id, lookout: name, severity, category, acts, because, raisedAt: alert.raised_at, link },
    });
  const whom = [
    tell.mail.length > 0 && `${tell.mail.length === 1 ? '1 letter' : `${tell.mail.length} letters`}`,
    hooks.length > 0 && `${hooks.length === 1 ? '1 webhook' : `${hooks.length} webhooks`}`,
  ].filter(Boolean);
  await addStep(tx, now, id, 'told', null, whom.join(' and '));
}
