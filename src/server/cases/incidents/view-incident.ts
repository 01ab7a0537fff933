import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Deadline } from '../../../core/cases/incidents/deadlines.ts';
import { incidentNumber, type NewIncident } from '../../../core/cases/incidents/incident.ts';
import { INCIDENT_STEPS, IncidentWords } from '../../../core/cases/incidents/incident-act.ts';
import {
  authorityLetter,
  peopleLetter,
  type IncidentTold,
} from '../../../core/cases/incidents/incident-letter.ts';
import {
  isWanted,
  proposedTelling,
  type IncidentNeed,
} from '../../../core/cases/incidents/incident-progress.ts';
import { peopleWords, type Reckoned } from '../../../core/cases/incidents/reckoned.ts';
import {
  proposedSeverity,
  type Severity,
  type SeverityInput,
} from '../../../core/cases/incidents/severity.ts';
import type { WrittenLetter } from '../../../core/cases/requests/letters/request-letter.ts';
import { dayText } from '../../../core/text/day.ts';
import { peopleWho } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { sourceNames } from '../../holdings/offers.ts';
import { deviceOptions } from '../../protection/offers.ts';
import { Bytes, Instant } from '../../store/columns.ts';
import { readRequestPolicy } from '../requests/request-policy.ts';
import { openJson } from '../requests/request-row.ts';
import { type Decision, knowIncident } from './known-incident.ts';

export interface ViewedIncident {
  readonly id: number;
  readonly incident: NewIncident;
  readonly knownAt: string;
  readonly nis2: boolean;
  readonly hipaa: boolean;
  readonly reckoned: Reckoned | null;
  readonly reckonedAt: string | null;
  readonly severityInput: SeverityInput;
  readonly severity: Severity | null;
  readonly proposal: ReturnType<typeof proposedTelling> | null;
  readonly decision:
    | (z.infer<typeof Decision> & {
        readonly byName: string;
        readonly agreedName: string | null;
        readonly mine: boolean;
      })
    | null;
  /** Unwanted: two people decided that nobody is told by it. */
  readonly deadlines: readonly (Deadline & { readonly toldAt: string | null; readonly unwanted: boolean })[];
  /** What runs out next, as it was decided. */
  readonly next: Deadline | null;
  readonly needs: readonly IncidentNeed[];
  readonly words: IncidentWords;
  readonly letters: { readonly authority: WrittenLetter; readonly people: WrittenLetter };
  readonly measures: readonly {
    readonly id: number;
    readonly what: string;
    readonly owner: string | null;
    readonly dueOn: string;
    readonly doneAt: string | null;
  }[];
  readonly evidence: readonly { readonly at: string; readonly what: string; readonly hash: string }[];
  readonly steps: readonly {
    readonly at: string;
    readonly kind: (typeof INCIDENT_STEPS)[number];
    readonly by: string | null;
    readonly words: string;
  }[];
  readonly handlers: readonly { readonly id: number; readonly name: string }[];
  readonly handler: { readonly id: number; readonly name: string } | null;
  readonly closedAt: string | null;
  /** Why it was none; `null` for one that was, or may be. */
  readonly noBreach: string | null;
  readonly now: string;
  /** What it may have touched. */
  readonly devices: Awaited<ReturnType<typeof deviceOptions>>;
  readonly sources: readonly { readonly id: string; readonly name: string }[];
}

/** All of an incident. Throws a RefusedError (404). */
export async function viewIncident(
  ctx: Context,
  account: Account,
  id: number,
  language = 'en',
): Promise<ViewedIncident> {
  const { store } = ctx;
  const { row, incident, deadlines, severity, needs, next } = await knowIncident(store, ctx, id);
  const policy = await readRequestPolicy(store);
  const [measures, evidence, steps, people, devices, sources] = await Promise.all([
    store.all(
      z.object({
        id: z.number(),
        what: z.string(),
        owner: z.string().nullable(),
        dueOn: z.string(),
        doneAt: Instant.nullable(),
      }),
      'SELECT m.id, m.what, a.name AS owner, m.due_on AS dueOn, m.done_at AS doneAt FROM incident_measure m LEFT JOIN account a ON a.id = m.owner WHERE m.incident_id = ? ORDER BY m.id',
      [id],
    ),
    store.all(
      z.object({ at: Instant, what: z.string(), hash: Bytes.transform((b) => b.toString('hex')) }),
      'SELECT at, what, hash FROM incident_evidence WHERE incident_id = ? ORDER BY id DESC LIMIT 100',
      [id],
    ),
    store.all(
      z.object({ at: Instant, kind: z.enum(INCIDENT_STEPS), by: z.string().nullable(), words: z.string() }),
      'SELECT s.at, s.kind, a.name AS `by`, s.words FROM incident_step s LEFT JOIN account a ON a.id = s.by_account WHERE s.incident_id = ? ORDER BY s.id LIMIT 500',
      [id],
    ),
    peopleWho(store, 'cases.incidents'),
    deviceOptions(store),
    sourceNames(store),
  ]);
  const nameOf = (of: number | null) => people.find((p) => p.id === of)?.name ?? 'somebody who left';
  const words: IncidentWords =
    row.words === null
      ? { happened: incident.words || incident.title, consequences: '', contact: account.email, late: '' }
      : IncidentWords.parse(openJson(ctx, row.words));
  const day = (at: string) => dayText(at.slice(0, 10));
  const told: IncidentTold = {
    ...{
      organisation: policy.organisation,
      number: incidentNumber(id),
      happened: words.happened,
      consequences: words.consequences,
    },
    ...{
      when: incident.happenedAt ? `on ${day(incident.happenedAt)}` : '',
      known: day(row.known_at),
      contact: words.contact,
      late: words.late,
    },
    people: row.reckoned ? peopleWords(row.reckoned) : '',
    records: row.reckoned ? String(row.reckoned.data.reduce((n, d) => n + d.matches, 0)) : '',
    data: row.reckoned?.data.map((d) => d.name) ?? [],
    measures: measures.map((m) => m.what),
  };
  return {
    ...{
      id,
      incident,
      knownAt: row.known_at,
      nis2: row.nis2,
      hipaa: row.hipaa,
      reckoned: row.reckoned,
      reckonedAt: row.reckoned_at,
    },
    severityInput:
      row.severity ??
      proposedSeverity(
        row.kind,
        row.reckoned?.data ?? [],
        row.reckoned?.reach.some((r) => r.anyone),
      ),
    severity,
    proposal: severity && row.severity ? proposedTelling(severity.level, row.severity.unreadable) : null,
    decision: row.decision && {
      ...row.decision,
      ...{
        byName: nameOf(row.decision.by),
        agreedName: row.decision.agreedBy === null ? null : nameOf(row.decision.agreedBy),
        mine: row.decision.by === account.id,
      },
    },
    deadlines: deadlines.map((d) => ({
      ...d,
      toldAt: row.told[d.id] ?? null,
      unwanted: (row.decision?.agreedBy ?? null) !== null && !isWanted(d, row.decision),
    })),
    next: next ?? null,
    noBreach: row.no_breach,
    ...{
      needs,
      words,
      measures,
      evidence,
      steps,
      devices,
      closedAt: row.closed_at,
      now: ctx.now().toISOString(),
    },
    letters: { authority: authorityLetter(told), people: peopleLetter(told, language) },
    handlers: people.filter((p) => p.able).map(({ id: of, name }) => ({ id: of, name })),
    handler: row.handler === null ? null : { id: row.handler, name: nameOf(row.handler) },
    sources: sources.map((s) => ({ id: s.id, name: s.name })),
  };
}
