import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { lawOf } from '../../src/core/cases/requests/law/laws.ts';
import { limitEnd } from '../../src/core/cases/requests/law/clock.ts';
import { NewRequest, type RequestKind } from '../../src/core/cases/requests/request.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { addJob } from '../../src/server/jobs/job.ts';
import { showRequest } from '../../src/server/cases/requests/request-facts.ts';
import { addStep, personHash, sealJson } from '../../src/server/cases/requests/request-row.ts';
import { takeRequest } from '../../src/server/cases/requests/take-in.ts';
import { workingDays } from '../../src/server/cases/requests/working-days.ts';
import { JONAS, MAJA, type Asker } from '../holdings/estate/askers.ts';
import { demoPerson } from '../holdings/estate/person.ts';
import type { Demo } from '../demo.ts';
import { Random } from '../random.ts';
import { line } from '../ledger.ts';

/** Closed over the last year: what was asked, where from, how long it took. */
const CLOSED: readonly (readonly [
  kind: RequestKind,
  region: string,
  daysAgo: number,
  took: number,
  outcome: string,
])[] = [
  ['access', 'SE', 341, 19, 'answered'],
  ['delete', 'DK', 322, 12, 'answered'],
  ['access', 'DE', 308, 24, 'answered'],
  ['withdraw', 'DK', 300, 1, 'answered'],
  ['no sale', 'US-CA', 287, 6, 'answered'],
  ['access', 'GB', 266, 33, 'answered'],
  ['correct', 'DK', 251, 4, 'answered'],
  ['delete', 'US-CA', 240, 30, 'answered'],
  ['access', 'DK', 222, 17, 'answered'],
  ['object', 'SE', 209, 5, 'answered'],
  ['access', 'DK', 190, 14, 'refused'],
  ['delete', 'SE', 171, 20, 'answered'],
  ['move', 'DE', 160, 22, 'answered'],
  ['access', 'SE', 141, 11, 'answered'],
  ['no sale', 'US-CA', 133, 8, 'answered'],
  ['access', 'GB', 120, 27, 'answered'],
  ['delete', 'GB', 109, 9, 'not known who'],
  ['correct', 'SE', 95, 3, 'answered'],
  ['access', 'DK', 84, 16, 'answered'],
  ['access', 'DE', 70, 21, 'answered'],
  ['delete', 'DK', 61, 13, 'answered'],
  ['access', 'SE', 52, 9, 'taken back'],
  ['withdraw', 'SE', 47, 1, 'answered'],
];
const FIRST = 1158;

/** Some thirty requests: a year of them that ended, and those that are open today. */
export async function loadRequests(demo: Demo): Promise<void> {
  const { tx, ctx, lines } = demo;
  const random = new Random(1183);
  const lotte = demo.person('Lotte Bruun');
  const mailbox = await tx.one(
    z.object({ id: z.number() }),
    "SELECT id FROM source WHERE name = 'Privacy mailbox'",
  );
  await tx.run('UPDATE request_policy SET content = JSON_SET(content, ?, ?, ?, ?, ?, ?, ?, ?) WHERE id = 1', [
    ...['$.organisation', 'Brindle Strait Ferries', '$.handler', String(lotte)],
    ...['$.mailbox', String(mailbox?.id ?? ''), '$.mailboxPlace', ''],
  ]);
  for (const [i, of] of CLOSED.entries()) await closed(demo, random, FIRST + i, ...of);
  await tx.run(
    'INSERT INTO preference_person (person_key, address, name, number, language, made_at) VALUES (?, ?, ?, ?, ?, ?)',
    [randomBytes(16), MAJA.email, MAJA.name, MAJA.member, 'sv', toDatetime(demo.at(400))],
  );
  const days = workingDays('DK');
  /** Days ago on which something came that is due in so many days from now. */
  const dueIn = (left: number, region: string, kind: RequestKind) => {
    const law = lawOf(region);
    for (let ago = 0; ago < 120; ago++) {
      const end = limitEnd(
        demo.at(ago).toISOString().slice(0, 10),
        law.otherwise?.[kind] ?? law.answer,
        days,
      );
      if (end <= demo.at(-left).toISOString().slice(0, 10)) return ago;
    }
    return 20;
  };
  const open = async (
    kind: RequestKind,
    region: string,
    ago: number,
    who: Partial<Asker>,
    language = 'en',
    words = '',
  ) => {
    const request = NewRequest.parse({
      ...{ kind, region, language, words, site: 'brindlestrait' },
      subject: { name: who.name ?? '', emails: who.email ? [who.email] : [], born: who.born ?? '' },
    });
    const { id } = await takeRequest(tx, ctx, request, { way: 'form', by: 'visitor', at: demo.at(ago) });
    await tx.run('UPDATE subject_request SET confirmed_on = received_on WHERE id = ?', [id]);
    return id;
  };
  const known = async (id: number, ago: number) => {
    await tx.run(
      "UPDATE subject_request SET asked_at = ?, proof = 'agrees', known_by = 'link and questions', known_at = ?, search = 'running' WHERE id = ?",
      [...[toDatetime(demo.at(ago)), toDatetime(demo.at(ago - 1)), id]],
    );
    await addStep(tx, demo.at(ago), id, 'asked', null);
    await addStep(tx, demo.at(ago - 1), id, 'known', null, '3 answers agree with what is held');
    // Once the surveys have read what there is.
    await addJob(tx, demo.now, {
      ...{
        kind: 'find-person',
        title: `Looking for whom R-${id} is about`,
        about: { object: 'request', id },
      },
      ...{ payload: { request: id, account: null }, createdBy: null, link: `/cases/requests/${id}` },
      runAt: new Date(demo.now.getTime() + SURVEYS_MS),
    });
    await showRequest(tx, ctx, id);
  };
  const sweden = dueIn(6, 'SE', 'access');
  const maja = await open('access', 'SE', sweden, MAJA, 'sv', 'Jag vill se allt ni har om mig, också mejl.');
  await known(maja, sweden - 1);
  const germany = dueIn(-1, 'DE', 'delete');
  const jonas = await open(
    'delete',
    'DE',
    germany,
    JONAS,
    'de',
    'Bitte löschen Sie alles, was Sie über mich haben.',
  );
  await known(jonas, germany - 2);
  const waits = await open('correct', 'DK', 21, demoPerson(random), 'da', 'Mit efternavn er stavet forkert.');
  await tx.run('UPDATE subject_request SET asked_at = ? WHERE id = ?', [toDatetime(demo.at(20)), waits]);
  await tx.run("INSERT INTO request_pause (request_id, why, from_on) VALUES (?, 'proof', ?)", [
    waits,
    demo.at(20).toISOString().slice(0, 10),
  ]);
  await showRequest(tx, ctx, waits);
  await open('no sale', 'US-CA', 4, { name: 'Dana Ortiz', email: 'dana.ortiz@inbox.example' });
  await open('access', 'GB', 2, demoPerson(random));
  await open('move', 'DK', 1, demoPerson(random), 'da');
  await open('object', 'SE', 6, demoPerson(random), 'sv', 'Jag vill inte ha fler utskick.');
  lines.push(line(demo.at(380), demo.person('Ines Abara'), 'request policy.edit', 'request policy', 1, {}));
}

/** Until the first surveys are over. */
const SURVEYS_MS = 200_000;

async function closed(
  demo: Demo,
  random: Random,
  id: number,
  kind: RequestKind,
  region: string,
  daysAgo: number,
  took: number,
  outcome: string,
): Promise<void> {
  const { tx, ctx, lines } = demo;
  const p = demoPerson(random);
  const law = lawOf(region);
  const request = NewRequest.parse({ kind, region, subject: { name: p.name, emails: [p.email] } });
  const received = demo.at(daysAgo).toISOString().slice(0, 10);
  const answered = demo.at(daysAgo - took);
  const due = limitEnd(received, law.otherwise?.[kind] ?? law.answer, workingDays('DK'));
  const lotte = demo.person('Lotte Bruun');
  // What was gathered for those that ended long ago was let go.
  const kept = daysAgo - took < 90;
  await tx.run(
    `INSERT INTO subject_request (id, kind, law, region, language, way, site, content, person_hash, received_at, received_on, confirmed_on,
       known_by, known_at, answered_on, handler, outcome, closed_at, due_on, next_words, forget_on) VALUES (?)`,
    [
      [
        ...[id, kind, law.id, region, 'en', 'form', 'brindlestrait', kept ? sealJson(ctx, request) : null],
        ...[personHash(ctx, request), toDatetime(demo.at(daysAgo)), received, received],
        ...[
          outcome === 'not known who' ? null : 'link and questions',
          outcome === 'not known who' ? null : toDatetime(demo.at(daysAgo - 1)),
        ],
        ...[answered.toISOString().slice(0, 10), lotte, outcome, toDatetime(answered), due, outcome],
        kept
          ? demo
              .at(daysAgo - took - 90)
              .toISOString()
              .slice(0, 10)
          : null,
      ],
    ],
  );
  await addStep(tx, demo.at(daysAgo), id, 'came in', null, 'by the form');
  if (outcome !== 'not known who') await addStep(tx, demo.at(daysAgo - 1), id, 'known', null);
  await addStep(tx, answered, id, 'answered', lotte);
  await addStep(tx, answered, id, 'close', lotte, outcome);
  lines.push(
    line(demo.at(daysAgo), lotte, 'request.add', 'request', id, {
      kind,
      law: law.id,
      region,
      way: 'form',
      due,
    }),
    line(answered, lotte, 'request.close', 'request', id, { outcome }),
  );
}
