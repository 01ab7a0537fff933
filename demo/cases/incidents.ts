import { z } from 'zod';
import { NewIncident, type IncidentKind } from '../../src/core/cases/incidents/incident.ts';
import { deadlinesOf } from '../../src/core/cases/incidents/deadlines.ts';
import { severityOf, type SeverityInput } from '../../src/core/cases/incidents/severity.ts';
import type { Reckoned } from '../../src/core/cases/incidents/reckoned.ts';
import { takeIncident } from '../../src/server/cases/incidents/act-on-incident.ts';
import { showIncident } from '../../src/server/cases/incidents/known-incident.ts';
import { sealJson } from '../../src/server/cases/requests/request-row.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';

interface Past {
  readonly kind: IncidentKind;
  readonly title: string;
  readonly words: string;
  readonly daysAgo: number;
  readonly people: number;
  readonly data: readonly (readonly [detector: string, name: string, category: string, matches: number])[];
  readonly severity: Partial<SeverityInput>;
  readonly authority: 'tell' | 'do not tell';
  readonly reason: string;
  readonly measure: string;
}

const PAST: readonly Past[] = [
  {
    ...{ kind: 'sent wrongly', title: 'Manifest mailed to another line', daysAgo: 212, people: 46 },
    words:
      'The list of the evening crossing went to the wrong address; the other line deleted it and said so in writing.',
    data: [
      ['person-name', 'Name of a person', 'identity', 46],
      ['date-of-birth', 'Date of birth', 'identity', 46],
      ['passport', 'Passport number', 'travel', 46],
    ],
    severity: {
      data: 'behavioural',
      ease: 'maximum',
      confidentiality: 'known recipients',
      adjust: -1,
      why: 'deleted by a known and trusted recipient',
    },
    authority: 'do not tell',
    reason: 'One known recipient, who is bound to secrecy and deleted it: a risk to people is unlikely.',
    measure: 'Lists go by the portal, not by mail',
  },
  {
    ...{
      kind: 'not to be had',
      title: 'Booking could not be read for nine hours',
      daysAgo: 148,
      people: 6000,
    },
    words: 'A disk of the booking database failed at night; the copy was an hour old.',
    data: [
      ['email', 'E-mail address', 'contact', 6000],
      ['person-name', 'Name of a person', 'identity', 6000],
    ],
    severity: { data: 'simple', ease: 'maximum', availability: 'for a while' },
    authority: 'do not tell',
    reason: 'Nothing was lost but an hour of bookings, which were made again with the passengers.',
    measure: 'The copy is made every five minutes',
  },
  {
    ...{ kind: 'open to many', title: 'Payroll of June open to all staff', daysAgo: 66, people: 40 },
    words: 'A folder was moved, and took the rights of the one above. Two people say that they saw it.',
    data: [
      ['iban', 'Bank account (IBAN)', 'finance', 40],
      ['dk-cpr', 'Danish personal number', 'identity', 18],
      ['trade-union', 'Trade union', 'special category', 22],
    ],
    severity: {
      data: 'sensitive',
      ease: 'maximum',
      confidentiality: 'known recipients',
      adjust: -2,
      why: 'colleagues alone, for a day, and two who looked',
    },
    authority: 'tell',
    reason: 'Pay and union fees of forty people were open to six hundred: a risk cannot be left out.',
    measure: 'What lies in Payroll keeps its own rights wherever it is moved',
  },
];

/** Four incidents: three that are closed, and a laptop that was left on MS Corrie. */
export async function loadIncidents(demo: Demo): Promise<void> {
  const { tx, ctx, lines } = demo;
  const [ines, lotte] = [demo.person('Ines Abara'), demo.person('Lotte Bruun')];
  for (const p of PAST) {
    const known = demo.at(p.daysAgo);
    const reckoned: Reckoned = {
      ...{ items: 1, people: p.people, atMost: 0, error: 0, listed: [], reach: [], unknown: [] },
      data: p.data.map(([detector, name, category, matches]) => ({
        detector,
        name,
        category,
        matches,
        items: 1,
      })),
    };
    const severity: SeverityInput = {
      ...{
        data: 'simple',
        adjust: 0,
        why: '',
        ease: 'maximum',
        confidentiality: 'none',
        integrity: 'none',
        availability: 'none',
      },
      ...{ malicious: false, unreadable: false },
      ...p.severity,
    };
    const incident = NewIncident.parse({
      kind: p.kind,
      title: p.title,
      words: p.words,
      knownAt: known.toISOString(),
      regions: ['DK', 'SE'],
    });
    const told =
      p.authority === 'tell' ? { 'gdpr-33': new Date(known.getTime() + 51 * 3_600_000).toISOString() } : {};
    const { id } = await tx.run(
      `INSERT INTO incident (kind, content, known_at, taken_at, severity, reckoned, reckoned_at, decision, told, handler, closed_at, next_words) VALUES (?)`,
      [
        [
          ...[
            p.kind,
            sealJson(ctx, incident),
            toDatetime(known),
            toDatetime(known),
            JSON.stringify(severity),
            JSON.stringify(reckoned),
          ],
          ...[
            toDatetime(known),
            JSON.stringify({
              authority: p.authority,
              people: 'do not tell',
              reason: p.reason,
              by: lotte,
              agreedBy: ines,
            }),
          ],
          ...[JSON.stringify(told), lotte, toDatetime(demo.at(p.daysAgo - 6)), 'closed'],
        ],
      ],
    );
    await tx.run('INSERT INTO incident_measure (incident_id, what, owner, due_on, done_at) VALUES (?)', [
      [
        id,
        p.measure,
        lotte,
        demo
          .at(p.daysAgo - 20)
          .toISOString()
          .slice(0, 10),
        toDatetime(demo.at(p.daysAgo - 18)),
      ],
    ]);
    const { score } = severityOf(severity, p.people);
    for (const [kind, back, by, words] of [
      ['taken in', 0, lotte, ''],
      ['reckon', 0, lotte, `1 item, ${p.people} people`],
      ['weigh', 1, lotte, score.toFixed(2)],
      ['decide', 1, lotte, p.reason],
      ['agree', 1, ines, ''],
      ['close', 6, lotte, ''],
    ] as const)
      await tx.run('INSERT INTO incident_step (incident_id, at, kind, by_account, words) VALUES (?)', [
        [id, toDatetime(demo.at(p.daysAgo - back)), kind, by, words],
      ]);
    lines.push(
      line(known, lotte, 'incident.add', 'incident', id, { kind: p.kind, knownAt: known.toISOString() }),
      line(demo.at(p.daysAgo - 1), ines, 'incident.agree', 'incident', id, {}),
    );
  }
  const laptop = await tx.one(
    z.object({ device_id: z.number() }),
    "SELECT id AS device_id FROM device WHERE name LIKE 'LT-% MS Corrie' ORDER BY id LIMIT 1",
  );
  const known = new Date(demo.now.getTime() - 41 * 3_600_000);
  const last = await tx.one(
    z.object({ at: z.string().nullable() }),
    'SELECT MAX(at) AS at FROM activity_event WHERE device_id = ?',
    [laptop?.device_id ?? 0],
  );
  const happened = last?.at ? new Date(`${last.at.replace(' ', 'T')}Z`) : known;
  const incident = NewIncident.parse({
    ...{
      kind: 'lost device',
      title: 'Laptop left on MS Corrie',
      reporter: 'Tove Lindqvist',
      knownAt: known.toISOString(),
    },
    words: 'The purser went ashore without it; the next crew found the bag empty. It was signed in.',
    happenedAt: (happened < known ? happened : known).toISOString(),
    regions: ['DK', 'SE', 'DE'],
    touched: laptop ? [{ what: 'device', id: laptop.device_id }] : [],
  });
  // Known two days ago: as if it had been taken in then.
  const id = await takeIncident(tx, { ...ctx, now: () => demo.now }, incident, lotte);
  await tx.run('UPDATE incident SET taken_at = ? WHERE id = ?', [toDatetime(known), id]);
  await tx.run('UPDATE incident_step SET at = ? WHERE incident_id = ?', [toDatetime(known), id]);
  await showIncident(tx, ctx, id);
  lines.push(
    line(known, lotte, 'incident.add', 'incident', id, {
      kind: 'lost device',
      knownAt: known.toISOString(),
      due:
        deadlinesOf({
          knownAt: known.toISOString(),
          regions: ['DK'],
          people: null,
          nis2: false,
          hipaa: false,
        })[0]?.by ?? '',
    }),
  );
}
