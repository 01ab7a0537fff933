import { join } from 'node:path';
import { writeFileSync } from 'node:fs';
import type { HandsRule } from '../../src/core/access/hands/hands-rule.ts';
import { eventsOf, type AccessEvent } from '../../src/core/access/history/access-event.ts';
import { z } from 'zod';
import {
  endRows,
  insertEvents,
  insertRows,
  newRow,
  type EventSurroundings,
} from '../../src/server/access/estate/write-rows.ts';
import { nextRevision } from '../../src/server/access/estate/line-rows.ts';
import { accessKey, idPrefix, keyText, trailOf } from '../../src/server/access/keys.ts';
import { groupLine, userLine } from '../../src/server/access/readers/scim.ts';
import type { SourceLine } from '../../src/server/access/readers/reader.ts';
import { findAccessSource, insertAccessSource } from '../../src/server/access/sources/access-sources.ts';
import { principalNames } from '../../src/server/access/sources/directory-people.ts';
import { placesBy, rowsOfLines, ToldLines, writeUses } from '../../src/server/access/sources/told-lines.ts';
import { BigId, toDatetime } from '../../src/server/store/columns.ts';
import { DIRECTORY_HOST } from '../../standins/directory/directory.ts';
import { LibraryBook, type LibraryLine } from '../../standins/library/library-book.ts';
import { LIBRARY_HOST } from '../../standins/library/library.ts';
import { standinToken } from '../../standins/token.ts';
import { demoStaff } from '../accounts/staff.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { line } from '../ledger.ts';
import { Random } from '../random.ts';
import { directoryBook, groupId } from './directory-book.ts';
import { libraryEstate, type LibraryEstate } from './library-lines.ts';

/** What stood when is known for so many days. */
const KNOWN_DAYS = 366;
/** The directory was read last a day ago. */
const BEHIND_HOURS = 23;

/** A directory that is a day behind, a library of the shares with a year of changes, and what they make of each other. */
export const ACCESS: DemoArea = {
  area: 'access',
  async load(demo) {
    const { ctx, tx, now, lines } = demo;
    const { DATA_DIR, SECRET_KEY, STANDIN_PORT } = ctx.settings;
    const reviewer = demo.person('Magnus Reyer');
    const staff = demoStaff(now);
    const book = directoryBook(staff);
    writeFileSync(join(DATA_DIR, 'directory.json'), JSON.stringify(book));
    const estate = libraryEstate(join(DATA_DIR, 'estate'), staff, now, new Random(18));
    LibraryBook.write(join(DATA_DIR, 'library.json'), estate.lines);
    const add = async (name: string, of: 'directory' | 'library', host: string) => {
      const opens = of === 'library' ? `http://${host}:${STANDIN_PORT}/open?id={id}` : '';
      const id = await insertAccessSource(tx, ctx, reviewer, {
        content: { name, everyHours: of === 'directory' ? 24 : 2, writes: true, opens, holds: [] },
        address: { kind: of === 'directory' ? 'scim' : 'library', url: `http://${host}:${STANDIN_PORT}` },
        secret: standinToken(SECRET_KEY, of),
      });
      const read = of === 'directory' ? new Date(now.getTime() - BEHIND_HOURS * 3_600_000) : demo.at(0.1);
      await tx.run('UPDATE access_source SET known_since = ?, read_at = ?, tried_at = ? WHERE id = ?', [
        ...[toDatetime(demo.at(KNOWN_DAYS)), toDatetime(read), toDatetime(read), id],
      ]);
      lines.push(line(demo.at(KNOWN_DAYS), reviewer, 'access-source.add', 'access source', id, { name }));
      return id;
    };
    const directory = await add('Directory', 'directory', DIRECTORY_HOST);
    const library = await add('Share library', 'library', LIBRARY_HOST);
    await stand(demo, directory, [...book.users.map(userLine), ...book.groups.map(groupLine)]);
    const told = estate.lines.map((l): SourceLine => (l.type === 'use' ? { use: l } : { line: l }));
    const places = await stand(demo, library, told);
    await loadPast(demo, library, estate.past, places);
    await loadReview(demo, library, estate.lines);
    await tx.run(
      'INSERT INTO access_hands_rule (name, content, made_by, made_at) VALUES (?, ?, ?, ?)',
      handsRule(`${idPrefix(library)}Payroll share`, reviewer, toDatetime(demo.at(150))),
    );
    for (const p of new Set(
      estate.lines.flatMap((l) => (l.type === 'place' && l.parent === null ? [l.id] : [])),
    )) {
      const id = `${idPrefix(library)}${p}`;
      await tx.run(
        'INSERT INTO access_watch (place, place_key, trail, days, since) VALUES (?, ?, ?, 400, ?)',
        [...[id, accessKey(id), trailOf([id]), toDatetime(demo.at(KNOWN_DAYS))]],
      );
    }
  },
};

/** Lines as their source tells them now; grants and links since they were given, the rest as long as anything is known. */
async function stand(demo: Demo, id: number, lines: readonly SourceLine[]): Promise<EventSurroundings> {
  const { tx, now } = demo;
  const source = await findAccessSource(tx, id);
  const told = new ToldLines();
  for (const one of lines) told.add(one);
  const rows = (await rowsOfLines(tx, source, told)).map((r) => newRow(r.row, r.holds));
  const revision = await nextRevision(tx);
  const given = rows.filter((r) => r.row.type === 'grant' || r.row.type === 'link');
  await insertRows(tx, now, id, revision, given);
  await insertRows(
    tx,
    demo.at(KNOWN_DAYS),
    id,
    revision,
    rows.filter((r) => !given.includes(r)),
  );
  await writeUses(tx, source, told.uses);
  const names = await principalNames(tx);
  const surroundings: EventSurroundings = {
    ...{ source: id, change: null, initiator: '' },
    person: (of) => names.get(of) ?? of,
    place: placesBy(rows.map((r) => r.row)),
  };
  await insertEvents(
    tx,
    now,
    eventsOf({ came: given.map((g) => g.row), went: [] }, surroundings),
    surroundings,
  );
  return surroundings;
}

/** Grants that came and went in the course of the year. */
async function loadPast(
  { tx, now }: Demo,
  id: number,
  past: LibraryEstate['past'],
  surroundings: EventSurroundings,
): Promise<void> {
  const prefix = idPrefix(id);
  const events: AccessEvent[] = [];
  for (const { grant, from, to, takenBy } of past) {
    const row = { ...grant, place: `${prefix}${grant.place}` };
    const [came, went] = [await nextRevision(tx), await nextRevision(tx)];
    await insertRows(tx, from, id, came, [newRow(row)]);
    const [last] = await tx.all(
      z.object({ id: BigId }),
      'SELECT id FROM access_line WHERE source_id = ? AND came = ?',
      [id, came],
    );
    await endRows(tx, to, went, last ? [last.id] : []);
    events.push(
      ...eventsOf({ came: [row], went: [] }, surroundings),
      ...eventsOf({ came: [], went: [row] }, surroundings).map((e) => ({
        ...e,
        ...{ at: to.toISOString(), by: takenBy },
      })),
    );
  }
  await insertEvents(tx, now, events, surroundings);
}

/** Who pays is not who keeps the books. */
function handsRule(place: string, by: number, at: string) {
  const name = 'Pay is made by one and booked by another';
  const content: HandsRule = {
    name,
    one: { is: 'place', place, strength: 'change' },
    other: { is: 'group', group: groupId('Finance') },
  };
  return [name, JSON.stringify(content), by, at];
}

/** A review of the port and the crew share, half done: some owners answered, some not. */
async function loadReview(demo: Demo, id: number, lines: readonly LibraryLine[]): Promise<void> {
  const { tx } = demo;
  const reviewer = demo.person('Magnus Reyer');
  const prefix = idPrefix(id);
  const asked = lines.flatMap((l) =>
    (l.type === 'grant' && !l.deny) || l.type === 'link'
      ? /^(?:Port|Crew|Care) share/.test(l.place)
        ? [{ ...l, place: `${prefix}${l.place}` }]
        : []
      : [],
  );
  const key = (place: string) => keyText(accessKey(`${prefix}${place}`));
  const { id: review } = await tx.run(
    'INSERT INTO access_review (name, scope, due, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
    [
      'Shares of the port, the crew and care',
      JSON.stringify({ places: ['Port share', 'Crew share', 'Care share'].map(key), people: [] }),
      ...[demo.at(-5).toISOString().slice(0, 10), reviewer, toDatetime(demo.at(16))],
    ],
  );
  demo.lines.push(line(demo.at(16), reviewer, 'access-review.start', 'access review', review, {}));
  const owners: Readonly<Record<string, string>> = {
    Port: 'magnus.reyer@brindlestrait.example',
    Crew: 'osei.darko@brindlestrait.example',
    Care: 'lotte.bruun@brindlestrait.example',
  };
  for (const [n, l] of asked.entries()) {
    const owner = owners[l.place.slice(prefix.length, prefix.length + 4)] ?? '';
    // The port answered but for what matters most; the crew office is half through; care said nothing yet.
    const isDone = owner.startsWith('magnus')
      ? !/All staff|2026/.test(l.place)
      : owner.startsWith('osei') && n % 2 === 0;
    const to = typeof l.to === 'string' ? l.to : (l.to[0] ?? '');
    const answer = isDone ? (to === 'karl.wede' ? 'take' : 'keep') : null;
    await tx.run(
      'INSERT INTO access_review_line (review_id, n, place, line, who, owner, answer, reason, said_by, said_at, told_at) VALUES ?',
      [
        [
          [
            ...[review, n, l.place, JSON.stringify(l), to, owner, answer],
            ...[answer === 'take' ? 'He left in the autumn.' : '', isDone ? owner : null],
            ...[isDone ? toDatetime(demo.at(9 - (n % 4))) : null, toDatetime(demo.at(16))],
          ],
        ],
      ],
    );
  }
}
