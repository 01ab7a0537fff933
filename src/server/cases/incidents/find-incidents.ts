import { z } from 'zod';
import { INCIDENT_KINDS, incidentNumber, KIND_OF_INCIDENT } from '../../../core/cases/incidents/incident.ts';
import { folded } from '../../../core/desk/find-rank.ts';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';

const MOST = 5;

/** Incidents by their number or kind; what they say of people is sealed, and is not searched. */
export async function findIncidents({ store }: Context, text: string): Promise<readonly Found[]> {
  const number = /^i?-?(\d{1,9})$/i.exec(text.trim())?.[1];
  const wanted = folded(text);
  const kinds = KIND_OF_INCIDENT.filter((k) => folded(`incident ${k} ${INCIDENT_KINDS[k]}`).includes(wanted));
  if (number === undefined && kinds.length === 0) return [];
  const rows = await store.all(
    z.object({ id: z.number(), kind: z.enum(KIND_OF_INCIDENT), next_words: z.string() }),
    `SELECT id, kind, next_words FROM incident WHERE ${number === undefined ? 'kind IN (?)' : 'CAST(id AS CHAR) LIKE ?'}
     ORDER BY closed_at IS NOT NULL, id DESC LIMIT ?`,
    [number === undefined ? kinds : `${number}%`, MOST],
  );
  return rows.map((r) => ({
    ...{ kind: 'incident', words: `${incidentNumber(r.id)}, ${INCIDENT_KINDS[r.kind]}` },
    ...{ detail: r.next_words || 'closed', link: `/cases/incidents/${r.id}` },
  }));
}
