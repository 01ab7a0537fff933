import { z } from 'zod';
import type { Context } from '../../context.ts';
import { Bytes, Instant } from '../../store/columns.ts';
import { eraseVisitor } from '../consents/consent-erasure.ts';
import { parseUuid } from '../consents/record-id.ts';
import { erasePerson } from './people.ts';
import { preferencesOf } from './preference-record.ts';

/** What websites keep of one person, as a table. */
export interface OwnRecord {
  readonly origin: 'preferences' | 'choices';
  /** Names it again. */
  readonly key: string;
  readonly title: string;
  readonly by: 'e-mail' | 'number';
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const MOST = 200;

/** Preferences of these addresses, and choices of the visitors whose receipts or keys are among these numbers. */
export async function recordsOfPerson(
  { store }: Pick<Context, 'store'>,
  { emails, numbers }: { readonly emails: readonly string[]; readonly numbers: readonly string[] },
): Promise<readonly OwnRecord[]> {
  const records: OwnRecord[] = [];
  if (emails.length > 0) {
    const people = await store.all(
      z.object({
        id: z.number(),
        address: z.string(),
        name: z.string(),
        number: z.string(),
        language: z.string(),
      }),
      'SELECT id, address, name, number, language FROM preference_person WHERE address IN (?) LIMIT 20',
      [emails.map((e) => e.toLowerCase())],
    );
    for (const p of people) {
      const said = await preferencesOf(store, p.id);
      records.push({
        ...{ origin: 'preferences', key: String(p.id), by: 'e-mail' },
        title: `Preferences of ${p.address}`,
        columns: ['Address', 'Name', 'Number', 'Language', 'Said at', 'Ways', 'Topics', 'By', 'Receipt'],
        rows: [
          ...said
            .slice(0, MOST)
            .map(({ receipt: r }) => [
              ...[p.address, p.name, p.number, p.language, r.at, r.channels.join(', ') || 'none'],
              ...[r.topics.join(', ') || 'none', r.by, r.id],
            ]),
          ...(said.length === 0 ? [[p.address, p.name, p.number, p.language, '', '', '', '', '']] : []),
        ],
      });
    }
  }
  const receipts = numbers.flatMap((n) => parseUuid(n.trim().toLowerCase()) ?? []);
  const keys = numbers.flatMap((n) =>
    /^[0-9a-f]{32}$/i.test(n.trim()) ? [Buffer.from(n.trim(), 'hex')] : [],
  );
  if (receipts.length + keys.length > 0) {
    const visitors = await store.all(
      z.object({ visitor_key: Bytes, host: z.string(), site_id: z.number() }),
      `SELECT DISTINCT c.visitor_key, s.host, c.site_id FROM consent_record c JOIN site s ON s.id = c.site_id
       WHERE ${receipts.length > 0 ? 'c.id IN (?)' : '1 = 0'} OR ${keys.length > 0 ? 'c.visitor_key IN (?)' : '1 = 0'} LIMIT 20`,
      [...(receipts.length > 0 ? [receipts] : []), ...(keys.length > 0 ? [keys] : [])],
    );
    for (const v of visitors) {
      const choices = await store.all(
        z.object({
          at: Instant,
          region: z.string(),
          choice: z.string(),
          allowed: z.string(),
          language: z.string(),
        }),
        `SELECT at, region, choice, allowed, language FROM consent_record WHERE visitor_key = ? AND site_id = ? ORDER BY at DESC LIMIT ${MOST}`,
        [v.visitor_key, v.site_id],
      );
      records.push({
        ...{ origin: 'choices', key: `${v.host} ${v.visitor_key.toString('hex')}`, by: 'number' },
        title: `Choices on ${v.host}`,
        columns: ['At', 'Where', 'Chose', 'Allowed', 'Language'],
        rows: choices.map((c) => [c.at, c.region, c.choice, c.allowed || 'nothing', c.language]),
      });
    }
  }
  return records;
}

/** Takes out what `recordsOfPerson` told of. */
export async function erasePersonRecords(
  ctx: Context,
  account: number,
  { origin, key }: Pick<OwnRecord, 'origin' | 'key'>,
  because: string,
): Promise<void> {
  if (origin === 'preferences') await erasePerson(ctx, account, Number(key), because);
  else {
    const [host = '', visitor = ''] = key.split(' ');
    await eraseVisitor(ctx, account, host, visitor, because);
  }
}
