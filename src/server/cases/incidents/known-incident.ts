import { z } from 'zod';
import { deadlinesOf, leftUntil, type Deadline } from '../../../core/cases/incidents/deadlines.ts';
import {
  INCIDENT_KINDS,
  incidentNumber,
  KIND_OF_INCIDENT,
  NewIncident,
} from '../../../core/cases/incidents/incident.ts';
import type { INCIDENT_STEPS } from '../../../core/cases/incidents/incident-act.ts';
import {
  incidentNeeds,
  nextDeadline,
  TELL,
  type IncidentNeed,
} from '../../../core/cases/incidents/incident-progress.ts';
import { mostPeople, Reckoned } from '../../../core/cases/incidents/reckoned.ts';
import { severityOf, SeverityInput, type Severity } from '../../../core/cases/incidents/severity.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { Count, Flag, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { openJson } from '../requests/request-row.ts';

export const Decision = z.object({
  authority: z.enum(TELL),
  people: z.enum(TELL),
  reason: z.string(),
  by: z.number(),
  agreedBy: z.number().nullable(),
});

export const IncidentRow = z.object({
  id: z.number(),
  kind: z.enum(KIND_OF_INCIDENT),
  content: z.string(),
  known_at: Instant,
  taken_at: Instant,
  nis2: Flag,
  hipaa: Flag,
  severity: JsonColumn(SeverityInput.nullable()),
  reckoned: JsonColumn(Reckoned.nullable()),
  reckoned_at: Instant.nullable(),
  decision: JsonColumn(Decision.nullable()),
  no_breach: z.string().nullable(),
  told: JsonColumn(z.record(z.string(), z.string())),
  words: z.string().nullable(),
  handler: z.number().nullable(),
  closed_at: Instant.nullable(),
});
export type IncidentRow = z.infer<typeof IncidentRow>;
export const INCIDENT_COLUMNS = Object.keys(IncidentRow.shape).join(', ');

async function findIncident(store: Queries, id: number, lock = false): Promise<IncidentRow> {
  const row = await store.one(
    IncidentRow,
    `SELECT ${INCIDENT_COLUMNS} FROM incident WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!row) throw notFound('incident');
  return row;
}

/** Writes what happened, in the transaction of the change. */
export async function addIncidentStep(
  tx: Queries,
  at: Date,
  id: number,
  kind: (typeof INCIDENT_STEPS)[number],
  by: number | null,
  words = '',
): Promise<void> {
  await tx.run('INSERT INTO incident_step (incident_id, at, kind, by_account, words) VALUES (?)', [
    [id, toDatetime(at), kind, by, words.slice(0, 1000)],
  ]);
}
/** An incident with the times that run, and what has to happen still. */
export interface KnownIncident {
  readonly row: IncidentRow;
  readonly incident: NewIncident;
  readonly deadlines: readonly Deadline[];
  readonly severity: Severity | null;
  readonly needs: readonly IncidentNeed[];
  readonly next: Deadline | undefined;
}

/** Throws a RefusedError (404). */
export async function knowIncident(
  store: Queries,
  ctx: Pick<Context, 'now' | 'settings'>,
  id: number,
  lock = false,
): Promise<KnownIncident> {
  const row = await findIncident(store, id, lock);
  const incident = NewIncident.parse(openJson(ctx, row.content));
  const people = mostPeople(row.reckoned);
  const { nis2, hipaa } = row;
  const deadlines = deadlinesOf({ knownAt: row.known_at, regions: incident.regions, people, nis2, hipaa });
  const severity = row.severity && severityOf(row.severity, people);
  const measures = await store.one(
    z.object({ open: Count, all: Count }),
    'SELECT SUM(done_at IS NULL) AS open, COUNT(*) AS `all` FROM incident_measure WHERE incident_id = ?',
    [id],
  );
  const facts = {
    ...{
      closed: row.closed_at !== null,
      reckoned: row.reckoned !== null,
      severity,
      decision: row.decision,
      deadlines,
    },
    ...{
      told: new Set(Object.keys(row.told)),
      measures: measures ?? { open: 0, all: 0 },
      now: ctx.now().toISOString(),
    },
  };
  return {
    row,
    incident,
    deadlines,
    severity,
    needs: incidentNeeds(facts),
    next: facts.closed ? undefined : nextDeadline(facts),
  };
}

/** Brings lists and Today up to date, in the transaction of whatever changed. */
export async function showIncident(
  tx: Queries,
  ctx: Pick<Context, 'now' | 'settings'>,
  id: number,
): Promise<void> {
  const { row, needs, next } = await knowIncident(tx, ctx, id);
  const [first] = needs;
  await tx.run('UPDATE incident SET next_at = ?, next_words = ?, is_wrong = ? WHERE id = ?', [
    ...[
      next?.by ? toDatetime(next.by) : null,
      (row.no_breach !== null ? 'no breach' : row.closed_at ? 'closed' : (first?.words ?? 'close it')).slice(
        0,
        200,
      ),
    ],
    ...[needs.some((n) => n.wrong) ? 1 : 0, id],
  ]);
  const name = `${incidentNumber(id)}, ${INCIDENT_KINDS[row.kind]}`;
  await replaceOnToday(
    tx,
    `incident ${id}`,
    row.closed_at !== null || (!next && needs.length === 0)
      ? []
      : [
          {
            ...{
              kind: next?.by && next.by < ctx.now().toISOString() ? 'incident late' : 'incident open',
              key: String(id),
              action: 'cases.incidents',
            },
            words: next?.by
              ? `${name}: ${leftUntil(next.by, ctx.now().toISOString())} to tell the ${next.to}`
              : name,
            ...{ detail: first?.words ?? 'close it', link: `/cases/incidents/${id}`, since: row.known_at },
            ...(next?.by ? { due: next.by } : {}),
          },
        ],
  );
}

/** Times run by the hour: what Today says is brought up to it. */
export async function watchIncidents(ctx: Context): Promise<void> {
  const open = await ctx.store.all(
    z.object({ id: z.number() }),
    'SELECT id FROM incident WHERE closed_at IS NULL ORDER BY next_at, id LIMIT 2000',
  );
  for (const { id } of open) await ctx.store.transaction((tx) => showIncident(tx, ctx, id));
}
