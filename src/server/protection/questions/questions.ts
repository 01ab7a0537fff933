import { z } from 'zod';
import type { RuleBundle } from '../../../core/protection/devices/rule-bundle.ts';
import type { QuestionAnswer } from '../../../core/protection/handling/question.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { Bytes, Flag, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findEvent, type KeptEvent } from '../activity/event-store.ts';
import type { Device } from '../devices/devices.ts';

const HOUR = 3_600_000;
/** A device shows what was answered for so long. */
const ANSWERS_SHOWN_MS = 7 * 24 * HOUR;

/** Writes down what people asked the officer, in the transaction that takes their events. */
export async function takeQuestions(tx: Queries, now: Date, events: readonly KeptEvent[]): Promise<void> {
  for (const { event, device } of events) {
    const [by] = event.rules;
    if (event.answer !== 'asked the officer' || !by) continue;
    const { id } = await tx.run(
      `INSERT IGNORE INTO handling_question (event_at, event_id, device_id, person, rule_id, words, asked_at)
       VALUES (?, ?, ?, ?, ?, ?, ?)`,
      [
        ...[toDatetime(event.at), Buffer.from(event.id, 'hex'), device, event.person, by.rule, event.reason],
        toDatetime(now),
      ],
    );
    if (id === 0) continue;
    await putOnToday(tx, {
      ...{ kind: 'asked by a person', key: String(id), action: 'protection.activity' },
      words: 'Somebody was stopped, and asks you',
      detail: event.reason || 'They wrote nothing.',
      ...{ link: `/protection/handling/asked?question=${id}`, since: now },
    });
  }
}

const Row = z.object({
  id: z.number(),
  at: Instant,
  eventId: Bytes.transform((b) => b.toString('hex')),
  device: z.number(),
  person: z.string(),
  rule: z.string(),
  ruleName: z.string().nullable(),
  words: z.string(),
  askedAt: Instant,
  allowed: Flag.nullable(),
  answer: z.string(),
  until: Instant.nullable(),
  answeredBy: z.string().nullable(),
  answeredAt: Instant.nullable(),
});
export type Question = z.infer<typeof Row>;
const SELECT = `SELECT q.id, q.event_at AS at, q.event_id AS eventId, q.device_id AS device, q.person, q.rule_id AS rule,
    r.name AS ruleName, q.words, q.asked_at AS askedAt, q.allowed, q.answer, q.until, a.name AS answeredBy,
    q.answered_at AS answeredAt
  FROM handling_question q LEFT JOIN rule r ON r.kind = 'handling rule' AND r.id = q.rule_id
  LEFT JOIN account a ON a.id = q.answered_by`;

export interface AskedQuestion extends Question {
  /** What they did; `undefined` where it is not kept any more. */
  readonly event: KeptEvent | undefined;
}

/** Open ones first, then the newest that were answered; at most 200. */
export async function listQuestions(store: Queries): Promise<readonly AskedQuestion[]> {
  const rows = await store.all(Row, `${SELECT} ORDER BY q.allowed IS NOT NULL, q.asked_at DESC LIMIT 200`);
  return Promise.all(rows.map(async (r) => ({ ...r, event: await findEvent(store, r.at, r.eventId) })));
}

/** Answers one; the device hears of it with its next rules. Throws a RefusedError (404, 409). */
export async function answerQuestion(
  ctx: Context,
  account: number,
  id: number,
  answer: QuestionAnswer,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({ allowed: Flag.nullable() }),
      'SELECT allowed FROM handling_question WHERE id = ? FOR UPDATE',
      [id],
    );
    if (!row) throw notFound('question');
    if (row.allowed !== null) throw new RefusedError('It was answered meanwhile. Look at it again.', [], 409);
    const now = ctx.now();
    const until = answer.is === 'yes' ? new Date(now.getTime() + answer.hours * HOUR) : null;
    await tx.run(
      'UPDATE handling_question SET allowed = ?, answer = ?, until = ?, answered_by = ?, answered_at = ? WHERE id = ?',
      [answer.is === 'yes' ? 1 : 0, answer.words, until && toDatetime(until), account, toDatetime(now), id],
    );
    await takeOffToday(tx, 'asked by a person', String(id));
    await record(tx, now, {
      ...{ actor: account, action: `question.${answer.is}`, object: 'question', objectId: id },
      detail: answer.is === 'yes' ? { hours: answer.hours } : {},
    });
  });
}

/** What a device is told: whom rules let by, until when, and what was answered of late. */
export async function answersFor(
  ctx: Context,
  device: Pick<Device, 'id' | 'person'>,
): Promise<Pick<RuleBundle, 'passes' | 'answers'>> {
  const now = toDatetime(ctx.now());
  const [passes, answers] = await Promise.all([
    ctx.store.all(
      z.object({ rule: z.string(), until: Instant }),
      'SELECT rule_id AS rule, MAX(until) AS until FROM handling_question WHERE person = ? AND until > ? GROUP BY rule_id LIMIT 200',
      [device.person, now],
    ),
    ctx.store.all(
      z.object({
        event: Bytes.transform((b) => b.toString('hex')),
        allowed: Flag,
        words: z.string(),
        until: Instant.nullable(),
      }),
      `SELECT event_id AS event, allowed, answer AS words, until FROM handling_question
       WHERE device_id = ? AND answered_at > ? ORDER BY answered_at DESC LIMIT 200`,
      [device.id, toDatetime(new Date(ctx.now().getTime() - ANSWERS_SHOWN_MS))],
    ),
  ]);
  return { passes, answers };
}
