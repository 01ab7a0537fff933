import { z } from 'zod';
import { type INCIDENT_KINDS, incidentNumber, NewIncident } from '../../../core/cases/incidents/incident.ts';
import { mostPeople, peopleWords } from '../../../core/cases/incidents/reckoned.ts';
import { severityOf } from '../../../core/cases/incidents/severity.ts';
import type { Context } from '../../context.ts';
import type { Cell } from '../../http/csv.ts';
import { Count, Flag, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { openJson } from '../requests/request-row.ts';
import { INCIDENT_COLUMNS, IncidentRow, knowIncident } from './known-incident.ts';

export interface ListedIncident {
  readonly id: number;
  readonly kind: keyof typeof INCIDENT_KINDS;
  readonly title: string;
  readonly knownAt: string;
  readonly closedAt: string | null;
  readonly nextAt: string | null;
  readonly next: string;
  readonly isWrong: boolean;
  readonly level: string | null;
  readonly score: number | null;
  readonly people: string;
  /** It was none: told of, looked into, and set aside. */
  readonly isNone: boolean;
}

export async function openIncidents(store: Queries): Promise<number> {
  const row = await store.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM incident WHERE closed_at IS NULL',
  );
  return row?.n ?? 0;
}

const MOST_LISTED = 500;

/** Open ones by what runs out first, then those that are closed, the last first: `most` of them. */
export async function listIncidents(
  ctx: Context,
  most: number = MOST_LISTED,
): Promise<readonly ListedIncident[]> {
  const rows = await ctx.store.all(
    IncidentRow.extend({ next_at: Instant.nullable(), next_words: z.string(), is_wrong: Flag }),
    `SELECT ${INCIDENT_COLUMNS}, next_at, next_words, is_wrong FROM incident
     ORDER BY closed_at IS NOT NULL, IF(closed_at IS NULL, COALESCE(next_at, '9999-01-01'), NULL), known_at DESC, id LIMIT ${most}`,
  );
  return rows.map((r) => {
    const severity = r.severity && severityOf(r.severity, mostPeople(r.reckoned));
    return {
      ...{
        id: r.id,
        kind: r.kind,
        title: NewIncident.parse(openJson(ctx, r.content)).title,
        knownAt: r.known_at,
        closedAt: r.closed_at,
      },
      ...{
        nextAt: r.next_at,
        next: r.next_words,
        isWrong: r.is_wrong,
        level: severity?.level ?? null,
        score: severity?.score ?? null,
      },
      people: r.reckoned ? peopleWords(r.reckoned) : '',
      isNone: r.no_breach !== null,
    };
  });
}

/** The register of breaches (GDPR Art. 33(5)): the facts, the effects, and what was done. */
export async function incidentCells(
  ctx: Context,
  i: ListedIncident,
): Promise<Readonly<Record<string, Cell>>> {
  const { row, incident } = await knowIncident(ctx.store, ctx, i.id);
  const measures = await ctx.store.all(
    z.object({ what: z.string() }),
    'SELECT what FROM incident_measure WHERE incident_id = ? ORDER BY id',
    [i.id],
  );
  return {
    ...{
      number: incidentNumber(i.id),
      kind: i.kind,
      title: i.title,
      facts: incident.words,
      happened: incident.happenedAt ?? '',
      known: i.knownAt,
    },
    ...{
      people: i.people,
      data: row.reckoned?.data.map((d) => d.name).join('; ') ?? '',
      severity: i.score === null ? '' : `${i.score.toFixed(2)} (${i.level ?? ''})`,
    },
    ...{
      decision:
        row.no_breach !== null
          ? 'no breach'
          : row.decision
            ? `authority: ${row.decision.authority}; people: ${row.decision.people}`
            : '',
      reason: row.no_breach ?? row.decision?.reason ?? '',
    },
    ...{
      told: Object.entries(row.told)
        .map(([d, at]) => `${d} ${at}`)
        .join('; '),
      measures: measures.map((m) => m.what).join('; '),
      closed: i.closedAt ?? '',
    },
  };
}

export const REGISTER_COLUMNS = [
  'number',
  'kind',
  'title',
  'facts',
  'happened',
  'known',
  'people',
  'data',
  'severity',
  'decision',
  'reason',
  'told',
  'measures',
  'closed',
] as const;
