import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { PERSON_LIST, STANDS, type Stands } from '../../../core/websites/preferences/person-list.ts';
import {
  MOST_PEOPLE,
  readPeople,
  type ListedPerson,
  type NewPerson,
} from '../../../core/websites/preferences/person-table.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { readSentCsv, refuseCells } from '../../files/sent-csv.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { listCount, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { formatUuid } from '../consents/record-id.ts';
import { askedPage, requirePage } from './page-kind.ts';
import { personLinks } from './person-link.ts';
import { YOUR_PREFERENCES } from './preference-letter.ts';
import {
  codes,
  findPerson,
  PERSON_COLUMNS,
  PersonRow,
  STAND,
  type PreferencePerson,
} from './preference-person.ts';
import { recordSaid } from './preference-intake.ts';
import { tellTools, tellToolsGone } from './tools.ts';

const SOURCE: ListSource<PreferencePerson> = {
  list: PERSON_LIST,
  select: PERSON_COLUMNS,
  from: 'preference_person p',
  row: PersonRow,
  id: 'p.id',
  sorts: { address: 'p.address', name: 'p.name', saidAt: "COALESCE(p.said_at, '1970-01-01')" },
  search: ['p.address', 'p.name', 'p.number'],
  filters: { stands: (where, value) => where.and(`${STAND} = ?`, value) },
};

export async function listPeople(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<PreferencePerson> & { readonly total: number }> {
  const [page, total] = await Promise.all([
    listPage(store, SOURCE, wish, { after, size }),
    listCount(store, SOURCE, wish),
  ]);
  return { ...page, total };
}

/** Throws a RefusedError (409) for an address that is known. */
export async function addPerson(ctx: Context, account: number, person: NewPerson): Promise<{ id: number }> {
  return ctx.store.transaction(async (tx) => {
    try {
      const id = await insertPerson(tx, ctx.now(), person);
      await tellTools(tx, [id]);
      await record(tx, ctx.now(), {
        actor: account,
        action: 'person.add',
        object: 'person',
        objectId: id,
        detail: {},
      });
      return { id };
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      throw new RefusedError(
        'Somebody with this address is known already.',
        [{ field: 'address', message: 'Look them up by it.' }],
        409,
      );
    }
  });
}

async function insertPerson(tx: Queries, now: Date, person: NewPerson): Promise<number> {
  const { id } = await tx.run(
    'INSERT INTO preference_person (person_key, address, name, number, language, made_at) VALUES (?, ?, ?, ?, ?, ?)',
    [randomBytes(16), person.address, person.name, person.number, person.language, toDatetime(now)],
  );
  return id;
}

export interface TakenPeople {
  readonly added: number;
  readonly changed: number;
  /** Whose choice the list told, and who keeps what they said themselves. */
  readonly said: number;
  readonly stood: number;
}

/**
 * Takes a list of people in CSV, whole or not at all; nobody is taken out by it. What it tells of choices is put on record
 * as told by a list, and never in the place of what somebody said by their own link. Throws a RefusedError that names each
 * cell that cannot be taken.
 */
export async function takePeople(ctx: Context, account: number, upload: number): Promise<TakenPeople> {
  const table = await readSentCsv(ctx, account, upload, MOST_PEOPLE, 'Send it in parts.');
  const page = await askedPage(ctx.store);
  const { people, faults } = readPeople(
    table.headings,
    table.rows,
    page?.content ?? { channels: [], topics: [] },
  );
  refuseCells(faults);
  return ctx.store.transaction(async (tx) => {
    const taken = { added: 0, changed: 0, said: 0, stood: 0 };
    for (const person of people) await takeOne(tx, ctx, account, person, taken);
    await record(tx, ctx.now(), {
      actor: account,
      action: 'person.read',
      object: 'person',
      objectId: 'all',
      detail: { ...taken },
    });
    return taken;
  });
}

async function takeOne(
  tx: Queries,
  ctx: Context,
  account: number,
  { said, ...person }: ListedPerson,
  taken: { -readonly [K in keyof TakenPeople]: number },
): Promise<void> {
  const known = await tx.one(
    PersonRow,
    `SELECT ${PERSON_COLUMNS} FROM preference_person p WHERE p.address = ? FOR UPDATE`,
    [person.address],
  );
  let id = known?.id;
  if (id === undefined) {
    id = await insertPerson(tx, ctx.now(), person);
    taken.added++;
    await tellTools(tx, [id]);
  } else {
    // What a list leaves out stays.
    const next = {
      name: person.name || known?.name || '',
      number: person.number || known?.number || '',
      language: person.language || known?.language || '',
    };
    const differs = (['name', 'number', 'language'] as const).some((k) => next[k] !== known?.[k]);
    if (differs) {
      await tx.run('UPDATE preference_person SET name = ?, number = ?, language = ? WHERE id = ?', [
        ...[next.name, next.number, next.language, id],
      ]);
      taken.changed++;
      await tellTools(tx, [id]);
    }
  }
  if (!said) return;
  const same =
    known?.saidAt !== null &&
    known?.channels.join() === said.channels.join() &&
    known.topics.join() === said.topics.join();
  if (known?.saidSelf) taken.stood++;
  else if (!same) {
    await recordSaid(tx, ctx, await requirePage(tx), {
      ...{ person: id, ...said, by: 'list', actor: account },
    });
    taken.said++;
  }
}

/** Sends somebody the link of their own page. Throws a RefusedError where no mail can go out. */
export async function writeToPerson(ctx: Context, account: number, id: number): Promise<void> {
  if (!ctx.settings.SMTP_URL)
    throw new RefusedError('No mail server is set (SMTP_URL). Copy the link, and send it yourself.', [], 409);
  await ctx.store.transaction(async (tx) => {
    const { address, name, language } = await findPerson(tx, id);
    const { content } = await requirePage(tx);
    const at = ctx.now();
    await queueMail(tx, ctx, {
      // Once a minute, however often somebody presses.
      key: `preferences letter ${id} ${at.toISOString().slice(0, 16)}`,
      about: { object: 'person', id },
      to: address,
      template: YOUR_PREFERENCES,
      language,
      values: { sender: content.name, name: name || address, link: personLinks(ctx, id).page },
    });
    await record(tx, at, {
      actor: account,
      action: 'person.write',
      object: 'person',
      objectId: id,
      detail: {},
    });
  });
}

/**
 * Takes out somebody with all that is on record of them, at their request. The ledger keeps the digests it was told, and
 * is told which records are gone and why.
 */
export async function erasePerson(
  ctx: Context,
  account: number,
  id: number,
  because: string,
): Promise<{ erased: number }> {
  return ctx.store.transaction(async (tx) => {
    await findPerson(tx, id);
    const rows = await tx.all(
      z.object({ id: Bytes }),
      'SELECT id FROM preference_record WHERE person_id = ? FOR UPDATE',
      [id],
    );
    await tellToolsGone(tx, ctx, id);
    await tx.run('DELETE FROM preference_record WHERE person_id = ?', [id]);
    await tx.run('DELETE FROM preference_person WHERE id = ?', [id]);
    await record(tx, ctx.now(), {
      actor: account,
      action: 'preference.erase',
      object: 'person',
      objectId: id,
      detail: { ids: rows.map((r) => formatUuid(r.id)), because },
    });
    return { erased: rows.length };
  });
}

export interface PeopleFigures {
  readonly stands: Readonly<Record<Stands, number>>;
  /** People who say yes, by way and by topic. */
  readonly channels: Readonly<Record<string, number>>;
  readonly topics: Readonly<Record<string, number>>;
  /** Who left since a day, and why; empty for who did not say. */
  readonly left: number;
  readonly reasons: readonly { readonly reason: string; readonly count: number }[];
}

/** How people stand, and why those left who did in the last days. */
export async function peopleFigures(ctx: Context, days: number): Promise<PeopleFigures> {
  const { store } = ctx;
  const since = toDatetime(new Date(ctx.now().getTime() - days * 86_400_000));
  const Counted = z.object({ code: z.string(), n: z.coerce.number() });
  const [stands, sets, reasons] = await Promise.all([
    store.all(Counted, `SELECT ${STAND} AS code, COUNT(*) AS n FROM preference_person p GROUP BY code`),
    store.all(
      z.object({ channels: z.string(), topics: z.string(), n: z.coerce.number() }),
      "SELECT channels, topics, COUNT(*) AS n FROM preference_person WHERE channels <> '' GROUP BY channels, topics",
    ),
    store.all(
      Counted,
      "SELECT reason AS code, COUNT(*) AS n FROM preference_record WHERE act = 'left' AND at >= ? GROUP BY reason ORDER BY n DESC, reason",
      [since],
    ),
  ]);
  const byCode = (of: 'channels' | 'topics') => {
    const counts: Record<string, number> = {};
    for (const set of sets) for (const code of codes(set[of])) counts[code] = (counts[code] ?? 0) + set.n;
    return counts;
  };
  return {
    stands: Object.fromEntries(STANDS.map((s) => [s, stands.find((r) => r.code === s)?.n ?? 0])) as Record<
      Stands,
      number
    >,
    channels: byCode('channels'),
    topics: byCode('topics'),
    left: reasons.reduce((n, r) => n + r.n, 0),
    reasons: reasons.map(({ code, n }) => ({ reason: code, count: n })),
  };
}
