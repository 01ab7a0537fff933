import { z } from 'zod';
import { EventRow, EVENT_COLUMNS, type KeptEvent } from '../../src/server/protection/activity/event-store.ts';
import { evidenceKey } from '../../src/server/protection/evidence/evidence-key.ts';
import { putOnToday } from '../../src/server/desk/today.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { sealFor } from '../../standins/device/sealing.ts';
import type { Demo } from '../demo.ts';
import { Random } from '../random.ts';

const DAY = 86_400_000;

/** What rules kept of the last things they stopped, and what people asked from where they were. */
export async function loadKept(demo: Demo): Promise<void> {
  const random = new Random(77);
  for (const [rule, what] of [
    ['Crew files to the AI assistant', 'copy'],
    ['Manifests to web mail', 'quarantine'],
  ] as const)
    for (const told of await stoppedBy(demo, rule, 6)) await keep(demo, random, told, what);
  const asked = await stoppedBy(demo, 'Cards into web forms', 3);
  const words = [
    'The agent has no other way to take the booking. May I?',
    'A test card of the bank, not a real one.',
    'For the refund of the school trip.',
  ];
  for (const [i, told] of asked.entries()) await ask(demo, told, words[i] ?? '', i === 2);
}

/** The last events that a rule stopped, each of another person. */
async function stoppedBy({ tx }: Demo, rule: string, most: number): Promise<readonly KeptEvent[]> {
  const row = await tx.one(
    z.object({ id: z.coerce.number() }),
    "SELECT id FROM rule WHERE kind = 'handling rule' AND name = ?",
    [rule],
  );
  const events = await tx.all(
    EventRow,
    `SELECT ${EVENT_COLUMNS} FROM activity_event e WHERE e.rule_id = ? AND e.outcome = 'stop' ORDER BY e.at DESC LIMIT 60`,
    [row?.id ?? 0],
  );
  const people = new Set<string>();
  return events.filter(({ event }) => !people.has(event.person) && people.add(event.person)).slice(0, most);
}

async function keep(
  { tx, ctx, now }: Demo,
  random: Random,
  { event, device }: KeptEvent,
  what: 'copy' | 'quarantine',
): Promise<void> {
  const text = `Made up for the demo.\n${event.findings.map((f) => `${f.matches} of ${f.detector}`).join('\n')}\n`;
  const sealed = await sealFor(evidenceKey(ctx), new TextEncoder().encode(text), (n) => random.bytes(n));
  const at = new Date(event.at);
  if (at > now) return;
  await tx.run(
    `INSERT INTO kept_evidence (what, event_at, event_id, device_id, person, rule_id, name, size, openers, body, kept_at, keep_until)
     VALUES (?)`,
    [
      [
        ...[
          what,
          toDatetime(at),
          Buffer.from(event.id, 'hex'),
          device,
          event.person,
          event.rules[0]?.rule ?? '',
        ],
        ...[event.item?.name ?? '', text.length, JSON.stringify([]), Buffer.from(sealed)],
        ...[toDatetime(at), toDatetime(new Date(at.getTime() + 60 * DAY))],
      ],
    ],
  );
}

async function ask(
  demo: Demo,
  { event, device }: KeptEvent,
  words: string,
  answered: boolean,
): Promise<void> {
  const { tx, now } = demo;
  const officer = demo.person('Ines Abara');
  const { id } = await tx.run(
    `INSERT INTO handling_question (event_at, event_id, device_id, person, rule_id, words, asked_at, allowed, answer, answered_by, answered_at)
     VALUES (?)`,
    [
      [
        ...[
          toDatetime(event.at),
          Buffer.from(event.id, 'hex'),
          device,
          event.person,
          event.rules[0]?.rule ?? '',
        ],
        ...[words, toDatetime(event.at)],
        ...(answered
          ? [0, 'Send them the link to our payment page instead.', officer, toDatetime(now)]
          : [null, '', null, null]),
      ],
    ],
  );
  if (answered) return;
  await putOnToday(tx, {
    ...{ kind: 'asked by a person', key: String(id), action: 'protection.activity' },
    words: 'Somebody was stopped, and asks you',
    ...{ detail: words, link: `/protection/handling/asked?question=${id}`, since: event.at },
  });
}
