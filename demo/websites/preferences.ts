import { randomBytes } from 'node:crypto';
import type { PreferencePage } from '../../src/core/websites/preferences/preference-page.ts';
import {
  NO_PREFERENCE,
  preferenceAct,
  preferenceDigest,
  type Preference,
  type PreferenceReceipt,
  type SaidBy,
} from '../../src/core/websites/preferences/preference-receipt.ts';
import { formatUuid, uuidv7 } from '../../src/server/websites/consents/record-id.ts';
import { PREFERENCE_PAGE, PAGE_ID } from '../../src/server/websites/preferences/page-kind.ts';
import { sealText } from '../../src/server/secret.ts';
import { insertRule } from '../../src/server/rules/rule-store.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { Random } from '../random.ts';
import { line } from '../ledger.ts';
import { stand } from '../stand.ts';

const PAGE: PreferencePage = {
  name: 'Brindle Strait Ferries',
  languages: ['en', 'da', 'sv'],
  channels: ['email', 'sms', 'post'],
  topics: ['timetable', 'offers', 'freight-notices'],
  reasons: ['too-often', 'not-for-me', 'never-asked', 'no-longer-travelling'],
  words: {
    'en topic timetable': 'Timetable changes',
    'en about timetable': 'when a sailing of yours moves or falls out',
    'en about offers': 'fares and trips, at most twice a month',
    'en about freight-notices': 'for hauliers: bookings, ramps and weather',
    'en reason too-often': 'You write too often',
    'en reason not-for-me': 'It is not for me',
    'en reason never-asked': 'I never asked for it',
    'da topic timetable': 'Ændringer i sejlplanen',
    'da topic offers': 'Tilbud',
    'da topic freight-notices': 'Fragtmeddelelser',
    'da reason too-often': 'I skriver for tit',
    'da reason not-for-me': 'Det er ikke noget for mig',
    'da reason never-asked': 'Jeg har aldrig bedt om det',
    'da reason no-longer-travelling': 'Jeg rejser ikke mere',
    'sv topic timetable': 'Ändringar i tidtabellen',
    'sv topic offers': 'Erbjudanden',
    'sv topic freight-notices': 'Fraktmeddelanden',
    'sv reason too-often': 'Ni skriver för ofta',
    'sv reason not-for-me': 'Det är inget för mig',
    'sv reason never-asked': 'Jag har aldrig bett om det',
    'sv reason no-longer-travelling': 'Jag reser inte längre',
  },
};

const FIRST = [
  'Mona',
  'Jens',
  'Astrid',
  'Kofi',
  'Lena',
  'Piotr',
  'Sana',
  'Elin',
  'Tomas',
  'Ruth',
  'Vera',
  'Omar',
];
const LAST = ['Holm', 'Lind', 'Okoro', 'Berg', 'Nowak', 'Dahl', 'Amin', 'Strand', 'Weiss', 'Falk'];
const PEOPLE = 240;
/** A seed of its own, so that nothing else of the demo comes out otherwise for it. */
const SEED = 20_261_130;

/** Passengers and hauliers whom the ferry line writes to, and what they said over 90 days. */
export async function loadPreferences(demo: Demo, manager: number): Promise<void> {
  const { tx, lines } = demo;
  const random = new Random(SEED);
  await insertRule(tx, demo.at(88), PREFERENCE_PAGE, PAGE_ID, PAGE, manager);
  await stand(demo, PREFERENCE_PAGE, PAGE_ID, PAGE, 'in force', demo.at(88), manager);
  const records: { person: number; id: Buffer; receipt: PreferenceReceipt }[] = [];
  for (let i = 0; i < PEOPLE; i++) {
    const [first, last] = [random.pick(FIRST), random.pick(LAST)];
    const key = random.bytes(16);
    const language = random.weighted({ da: 6, en: 3, sv: 2 });
    const { id: person } = await tx.run(
      'INSERT INTO preference_person (person_key, address, name, number, language, made_at) VALUES (?, ?, ?, ?, ?, ?)',
      [
        ...[key, `${first}.${last}.${i + 1}@mail.example`.toLowerCase(), `${first} ${last}`],
        ...[`P-${4000 + i}`, language, toDatetime(demo.at(87))],
      ],
    );
    let stood: Preference | undefined;
    let days = 2 + random.below(80);
    for (let said = 0; days > 0 && said < 3 && random.chance(said === 0 ? 0.8 : 0.25); said++) {
      const leaves = said > 0 && random.chance(0.6);
      const now: Preference = leaves ? NO_PREFERENCE : chosen(random);
      const by: SaidBy = leaves && random.chance(0.3) ? 'one click' : 'link';
      const id = uuidv7(demo.at(days), random.bytes(16));
      const receipt: PreferenceReceipt = {
        id: formatUuid(id),
        at: demo.at(days).toISOString(),
        person: key.toString('hex'),
        page: 1,
        asked: { channels: PAGE.channels, topics: PAGE.topics },
        ...now,
        act: preferenceAct(stood, now),
        by,
        reason: leaves && by === 'link' && random.chance(0.7) ? random.pick(PAGE.reasons) : '',
        language,
      };
      records.push({ person, id, receipt });
      lines.push(
        line(demo.at(days), 'visitor', 'preference.record', 'preference', receipt.id, {
          receipt: preferenceDigest(receipt),
        }),
      );
      stood = now;
      await tx.run(
        'UPDATE preference_person SET channels = ?, topics = ?, said_at = ?, said_record = ?, said_self = 1, left_at = ? WHERE id = ?',
        [
          ...[now.channels.join(), now.topics.join(), toDatetime(demo.at(days)), id],
          ...[leaves ? toDatetime(demo.at(days)) : null, person],
        ],
      );
      days -= 1 + random.below(40);
    }
  }
  demo.afterwards(async (places) => {
    await tx.run(
      'INSERT INTO preference_record (id, at, person_id, page_version, asked_channels, asked_topics, channels, topics, act, said_by, reason, words, language, ledger_id) VALUES ?',
      [
        records.map(({ person, id, receipt: r }) => [
          ...[id, toDatetime(r.at), person, r.page, r.asked.channels.join(), r.asked.topics.join()],
          ...[r.channels.join(), r.topics.join(), r.act, r.by, r.reason, '', r.language],
          places.get(r.id) ?? 0,
        ]),
      ],
    );
  });
  await connectTool(demo, manager);
  demo.tell(`${PEOPLE} people, with what they may be sent`);
}

/** At least one way and one topic. */
function chosen(random: Random): Preference {
  const some = (all: readonly string[]) => {
    const taken = all.filter(() => random.chance(0.55));
    return taken.length > 0 ? taken : [random.pick(all)];
  };
  return { channels: some(PAGE.channels), topics: some(PAGE.topics) };
}

/** The stand-in mailing tool, which has still to be told of everybody. */
async function connectTool(demo: Demo, manager: number): Promise<void> {
  const { tx, lines } = demo;
  const at = (days: number) => demo.at(days);
  const { SECRET_KEY, STANDIN_PORT } = demo.ctx.settings;
  const made = toDatetime(at(80));
  const { id: hook } = await tx.run(
    'INSERT INTO webhook (url, secret, made_by, made_at) VALUES (?, ?, ?, ?)',
    [
      `http://mailing.localhost:${STANDIN_PORT}/changes`,
      sealText(SECRET_KEY, randomBytes(32).toString('base64url')),
      ...[manager, made],
    ],
  );
  const { id } = await tx.run(
    "INSERT INTO preference_tool (name, hook, format, made_at) VALUES ('Newsletters', ?, 'json', ?)",
    [hook, made],
  );
  lines.push(
    line(at(80), manager, 'mailing-tool.add', 'mailing tool', id, { name: 'Newsletters', format: 'json' }),
  );
  await tx.run('INSERT INTO preference_waiting (tool_id, person_id) SELECT ?, id FROM preference_person', [
    id,
  ]);
}
