import { createHmac } from 'node:crypto';
import { z } from 'zod';
import type { StepKind } from '../../../core/cases/requests/request-act.ts';
import { withLearned } from '../../../core/cases/requests/person/learned.ts';
import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import { findLaw } from '../../../core/cases/requests/law/laws.ts';
import {
  KNOWN_BY,
  letterAddress,
  NewRequest,
  OUTCOMES,
  REQUEST_KINDS,
  WAYS_IN,
} from '../../../core/cases/requests/request.ts';
import { comparable } from '../../../core/text/mask.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { openText, sealText } from '../../secret.ts';
import { Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

export const SEARCHES = ['never', 'running', 'done', 'failed'] as const;

/** What came of asking somebody who they are. */
export const PROOFS = ['answered', 'agrees', 'differs', 'nothing held'] as const;

export const RequestRow = z.object({
  id: z.number(),
  kind: z.enum(REQUEST_KINDS),
  law: z.string().transform(findLaw),
  region: z.string(),
  language: z.string(),
  way: z.enum(WAYS_IN),
  site: z.string(),
  content: z.string().nullable(),
  learned: z.string().nullable(),
  person_hash: Bytes,
  received_at: Instant,
  received_on: z.string(),
  confirmed_on: z.string().nullable(),
  asked_at: Instant.nullable(),
  proof: z.enum(PROOFS).nullable(),
  known_by: z.enum(KNOWN_BY).nullable(),
  known_at: Instant.nullable(),
  extended_on: z.string().nullable(),
  search: z.enum(SEARCHES),
  searched_at: Instant.nullable(),
  agreed_at: Instant.nullable(),
  answered_on: z.string().nullable(),
  handler: z.number().nullable(),
  outcome: z.enum(OUTCOMES).nullable(),
  closed_at: Instant.nullable(),
  due_on: z.string(),
  version: z.number(),
  forget_on: z.string().nullable(),
});
export type RequestRow = z.infer<typeof RequestRow>;
const COLUMNS = Object.keys(RequestRow.shape).join(', ');

/** Throws a RefusedError (404). */
export async function findRequest(store: Queries, id: number, lock = false): Promise<RequestRow> {
  const row = await store.one(
    RequestRow,
    `SELECT ${COLUMNS} FROM subject_request WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!row) throw notFound('request');
  return row;
}

/** What a request says of people; `undefined` once that was let go. */
export function openRequest(
  { settings }: Pick<Context, 'settings'>,
  { content }: Pick<RequestRow, 'content'>,
): NewRequest | undefined {
  return content === null ? undefined : NewRequest.parse(JSON.parse(openText(settings.SECRET_KEY, content)));
}

const Learned = z.array(z.object({ trait: z.enum(['phone', 'number', 'address']), value: z.string() }));

/** Whom a request is about, with what their own rows told of them. */
export function knownSubject(
  ctx: Pick<Context, 'settings'>,
  row: Pick<RequestRow, 'learned'>,
  request: NewRequest,
): Subject {
  return row.learned === null
    ? request.subject
    : withLearned(request.subject, Learned.parse(openJson(ctx, row.learned)));
}

export const sealJson = ({ settings }: Pick<Context, 'settings'>, value: unknown): string =>
  sealText(settings.SECRET_KEY, JSON.stringify(value));

export const openJson = ({ settings }: Pick<Context, 'settings'>, sealed: string): unknown =>
  JSON.parse(openText(settings.SECRET_KEY, sealed));

/** What tells requests of one person: their address, else the name; keyed. */
export function personHash(ctx: Pick<Context, 'settings'>, request: NewRequest): Buffer {
  const [email = ''] = request.subject.emails;
  return keyedHash(
    ctx,
    'request person',
    email.toLowerCase() || letterAddress(request) || comparable(request.subject.name),
  );
}

/** 16 bytes. */
export function keyedHash({ settings }: Pick<Context, 'settings'>, use: string, value: string): Buffer {
  return createHmac('sha256', Buffer.from(settings.SECRET_KEY, 'hex'))
    .update(`${use}\n${value}`)
    .digest()
    .subarray(0, 16);
}

/** Writes what happened, in the transaction of the change. No data of people belongs in `words`. */
export async function addStep(
  tx: Queries,
  at: Date,
  request: number,
  kind: StepKind,
  by: number | null,
  words = '',
): Promise<void> {
  await tx.run('INSERT INTO request_step (request_id, at, kind, by_account, words) VALUES (?)', [
    [request, toDatetime(at), kind, by, words.slice(0, 1000)],
  ]);
}
