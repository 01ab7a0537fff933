import { z } from 'zod';
import { parseLens } from '../../src/core/lens/lens-text.ts';
import { clockId, newClock } from '../../src/core/retention/clock/clock-content.ts';
import { plainMarks } from '../../src/core/retention/clock/name-days.ts';
import { newHold, type HoldContent } from '../../src/core/retention/holds/hold.ts';
import { newLawBound, type LawBoundDraft } from '../../src/core/retention/rules/law-bound.ts';
import { newRetentionRule, type RetentionRuleDraft } from '../../src/core/retention/rules/retention-rule.ts';
import { FOR_GOOD } from '../../src/core/retention/rules/term.ts';
import { addClock, writeClockDays } from '../../src/server/retention/clocks/clocks.ts';
import { addHold, HOLD } from '../../src/server/retention/holds/holds.ts';
import { addLawBound, LAW_BOUND } from '../../src/server/retention/rules/law-bounds.ts';
import { addRetentionRule, RETENTION_RULE } from '../../src/server/retention/rules/retention-rules.ts';
import type { RuleKind } from '../../src/server/rules/rule-kind.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { SHIPS } from '../holdings/estate/papers.ts';
import { line } from '../ledger.ts';
import { stand, type DemoState } from '../stand.ts';
import { loadPastDisposals } from './disposals.ts';

type Past = Parameters<typeof loadPastDisposals>[1][number];

const years = (count: number) => ({ count, unit: 'years' as const });
const months = (count: number) => ({ count, unit: 'months' as const });
const days = (count: number) => ({ count, unit: 'days' as const });

interface DemoRule<T> {
  readonly name: string;
  readonly where?: string;
  /** Names of sources, with the steps down from them. */
  readonly places?: readonly string[];
  readonly state: DemoState;
  readonly daysAgo: number;
  readonly more: Partial<T>;
}

const RULES: readonly DemoRule<RetentionRuleDraft>[] = [
  {
    name: 'Fare invoices',
    where: 'document one of "fare-invoice"',
    state: 'in force',
    daysAgo: 60,
    more: {
      ...{ keep: years(5), yearEnd: true, then: 'ask' },
      ...{ because: 'The books have to be open to the tax office.', duty: 'Bookkeeping Act, § 12' },
    },
  },
  {
    name: 'Boarding manifests',
    where: 'document one of "boarding-manifest"',
    places: ['Port share', 'Terminal mail'],
    state: 'rehearsing',
    daysAgo: 20,
    more: {
      ...{ keep: days(90), after: 'arrival', unknown: 'changed', then: 'ask', silent: 'officer' },
      because:
        'Passenger counts are needed for search and rescue until arrival is confirmed; the harbour code asks for 90 days.',
      duty: 'Directive 98/41/EC, Art. 5; storage limitation, Art. 5(1)(e) GDPR',
    },
  },
  {
    name: 'Crew medical certificates',
    places: ['Crew share/Certificates'],
    state: 'in force',
    daysAgo: 45,
    more: {
      ...{ keep: years(1), then: 'ask', agree: 'two', undoDays: 7 },
      ...{ because: 'Fit for a year, and of no use afterwards.', duty: 'Art. 9(2)(b) and 5(1)(e) GDPR' },
    },
  },
  {
    name: 'CCTV, car deck',
    places: ['Car-deck index'],
    state: 'in force',
    daysAgo: 50,
    more: {
      ...{ keep: days(30), after: 'name-day', unknown: 'created', then: 'tell' },
      ...{
        because: 'What nobody asked for in a month is not asked for.',
        duty: 'Video Surveillance Act, § 4c',
      },
    },
  },
  {
    name: 'Rejected applications',
    places: ['Crew share/Applications/Not taken'],
    state: 'rehearsing',
    daysAgo: 12,
    more: {
      ...{ keep: months(9), then: 'delete', agree: 'large' },
      ...{ because: 'Somebody may still complain of the choice.', duty: 'Equal Treatment Act, § 7' },
    },
  },
  {
    name: 'Assistance requests',
    where: 'document one of "assistance-request"',
    state: 'in force',
    daysAgo: 40,
    more: {
      ...{ keep: years(1), then: 'ask', silent: 'officer' },
      ...{ because: 'Once the journey is over, what helped is not needed.', duty: 'Art. 9 and 5(1)(e) GDPR' },
    },
  },
  {
    name: 'Lost property log',
    places: ['Port share/Lost property'],
    state: 'draft',
    daysAgo: 2,
    more: {},
  },
  {
    name: 'Loyalty accounts, dormant',
    places: ['Saltmiles database'],
    state: 'paused',
    daysAgo: 30,
    more: { ...{ keep: years(3), then: 'anonymise' }, because: 'Members who did not sail are no members.' },
  },
  {
    name: 'Onboard Wi-Fi sign-ins',
    places: ['Wi-Fi sign-ins'],
    state: 'in force',
    daysAgo: 55,
    more: {
      ...{
        keep: days(30),
        after: 'name-day',
        unknown: 'created',
        then: 'delete',
        silent: 'officer',
        undoDays: 3,
      },
      ...{
        because: 'Enough to trace an abuse of the network.',
        duty: 'Storage limitation, Art. 5(1)(e) GDPR',
      },
    },
  },
  {
    name: 'School trips',
    where: 'document one of "school-trip-list"',
    state: 'in force',
    daysAgo: 35,
    more: {
      ...{ keep: months(3), after: 'name-day', unknown: 'changed', then: 'ask', agree: 'two' },
      ...{
        because: 'Lists of children are kept no longer than the school may ask.',
        duty: 'Art. 5(1)(e) and recital 38 GDPR',
      },
    },
  },
  {
    name: 'Mail of the terminals',
    places: ['Terminal mail'],
    state: 'in force',
    daysAgo: 344,
    more: {
      ...{ keep: years(1), then: 'tell' },
      because: 'What matters of it is filed elsewhere within a year.',
    },
  },
];

const BOUNDS: readonly DemoRule<LawBoundDraft>[] = [
  {
    name: 'Bookkeeping Act',
    where: 'document one of "fare-invoice", "payroll-sheet"',
    state: 'in force',
    daysAgo: 401,
    more: { kind: 'minimum', keep: years(5), yearEnd: true, article: 'Bookkeeping Act, § 12' },
  },
  {
    name: 'Incidents at sea',
    where: 'document one of "incident-report"',
    state: 'in force',
    daysAgo: 80,
    more: { kind: 'minimum', keep: years(10), article: 'Merchant Shipping Act, § 471' },
  },
  {
    name: 'Complaints of applicants',
    places: ['Crew share/Applications/Not taken'],
    state: 'in force',
    daysAgo: 78,
    more: {
      kind: 'maximum',
      keep: months(6),
      article: 'Data Protection Agency, guidance on applicants, 3.2',
    },
  },
  {
    name: 'Car-deck pictures',
    places: ['Car-deck index'],
    state: 'in force',
    daysAgo: 78,
    more: {
      kind: 'maximum',
      keep: days(30),
      after: 'name-day',
      unknown: 'created',
      article: 'Video Surveillance Act, § 4c(4)',
    },
  },
  {
    name: 'Manifests of a casualty',
    where: 'document one of "boarding-manifest" and data one of "health-condition"',
    places: ['Port share/Manifests'],
    state: 'in force',
    daysAgo: 76,
    more: { kind: 'minimum', keep: months(6), article: 'Harbour code, § 22' },
  },
  {
    name: 'Ship registers',
    state: 'draft',
    daysAgo: 3,
    more: { kind: 'minimum', keep: FOR_GOOD, article: 'Archives Act, § 8' },
  },
];

/** Eleven rules, what the law asks, three holds, and the clocks that they count from. */
export const RETENTION: DemoArea = {
  area: 'retention',
  async load(demo) {
    const { tx, lines } = demo;
    const records = demo.person('Sanne Holt');
    const officer = demo.person('Ines Abara');
    await tx.run("UPDATE retention_policy SET content = JSON_SET(content, '$.zone', 'Europe/Copenhagen')");
    const clocks = await loadClocks(demo, records);
    const sources = new Map(
      (
        await tx.all(z.object({ id: z.coerce.string(), name: z.string() }), 'SELECT id, name FROM source')
      ).map((s) => [s.name, s.id]),
    );
    const place = (text: string) => {
      const [source = '', ...steps] = text.split('/');
      return [sources.get(source) ?? source, ...steps].join('/');
    };
    const load = async <T extends { readonly name: string; readonly after: string }>(
      kind: RuleKind<T>,
      begin: (name: string) => T,
      add: (content: T, at: Date) => Promise<string>,
      rules: readonly DemoRule<T>[],
    ) => {
      for (const { name, where, places = [], state, daysAgo, more } of rules) {
        const at = demo.at(daysAgo);
        const given = { ...begin(name), ...more };
        const content: T = {
          ...given,
          ...(where === undefined ? {} : { lens: parseLens(where) }),
          places: places.filter((p) => sources.has(p.split('/')[0] ?? '')).map(place),
          after: clocks.get(given.after) ?? given.after,
        };
        const id = await add(content, at);
        lines.push(line(at, records, `${kind.object.replaceAll(' ', '-')}.add`, kind.object, id, { name }));
        await stand(demo, kind, id, content, state, at, officer);
      }
    };
    const made = new Map<string, { readonly id: string; readonly content: RetentionRuleDraft }>();
    await load(
      RETENTION_RULE,
      newRetentionRule,
      async (c, at) => {
        const id = await addRetentionRule(tx, at, records, c);
        made.set(c.name, { id, content: c });
        return id;
      },
      RULES,
    );
    await load(
      LAW_BOUND,
      newLawBound,
      async (c, at) => {
        const id = await addLawBound(tx, at, records, c);
        if (c.name === 'Bookkeeping Act')
          await tx.run(
            "INSERT INTO retention_review (kind, rule_id, version, answer, reason, account_id, name, at) VALUES ('bound', ?, 1, 'stands', ?, ?, 'Sanne Holt', ?)",
            [id, 'Five years, also since the Act was amended.', records, toDatetime(demo.at(34))],
          );
        return id;
      },
      BOUNDS,
    );
    const past = (
      name: string,
      source: string,
      more: Pick<Past, 'owner' | 'agreed' | 'items' | 'daysAgo' | 'method'>,
    ) => {
      const of = made.get(name);
      const id = sources.get(source);
      if (!of || id === undefined) return [];
      return [
        {
          ...more,
          rule: of.id,
          name,
          duty: of.content.duty,
          content: of.content,
          source: { id, name: source },
        },
      ];
    };
    await loadPastDisposals(demo, [
      ...past('School trips', 'Care share', {
        ...{ owner: 'Lotte Bruun', agreed: ['Lotte Bruun', 'Sanne Holt'], items: 14, daysAgo: 21 },
        method: 'taken out of the file system',
      }),
      ...past('Onboard Wi-Fi sign-ins', 'Wi-Fi sign-ins', {
        ...{ owner: 'Magnus Reyer', agreed: ['Magnus Reyer'], items: 31, daysAgo: 12 },
        method: 'deleted from the bucket',
      }),
    ]);
    for (const [content, daysAgo] of holds(demo, place)) {
      const at = demo.at(daysAgo);
      const id = await addHold(tx, at, officer, content);
      lines.push(line(at, officer, 'hold.add', 'hold', id, { name: content.name }));
      await stand(demo, HOLD, id, content, 'in force', at, officer);
      for (const [i, address] of content.custodians.entries())
        await tx.run(
          'INSERT INTO hold_notice (hold_id, address, told_at, reminded_at, times, known_at) VALUES (?, ?, ?, ?, ?, ?)',
          [
            ...[id, address, toDatetime(at), i === 1 ? toDatetime(demo.at(3)) : null, i === 1 ? 4 : 1],
            // One was told again and again, and says nothing.
            i === 1 ? null : toDatetime(demo.at(daysAgo - 2)),
          ],
        );
    }
  },
};

/** What terms are counted from: by the name that the rules above have for them. */
async function loadClocks(demo: Demo, by: number): Promise<ReadonlyMap<string, string>> {
  const { tx, lines } = demo;
  const at = demo.at(62);
  const manifests = parseLens('document one of "boarding-manifest"');
  const arrival = await addClock(tx, at, by, {
    ...newClock('the sailing’s arrival', 'list'),
    lens: manifests,
  });
  // Ships arrive the day they sail, or by night the day after.
  const sailings = new Map<string, string>();
  for (let ago = 0; ago < 1010; ago++)
    for (const [i, ship] of SHIPS.entries()) {
      // What the timetable of long ago does not know any more.
      if (ago > 700 && i % 2 === 1) continue;
      const [sails, next] = [demo.at(ago), demo.at(ago - 1)].map((d) => d.toISOString().slice(0, 10));
      sailings.set(plainMarks(`${sails} ${ship}`).trim(), (i === 3 ? next : sails) ?? '');
    }
  await writeClockDays(tx, arrival, sailings);
  const named = await addClock(tx, at, by, newClock('the day in its name', 'name'));
  for (const [id, name] of [
    [arrival, 'the sailing’s arrival'],
    [named, 'the day in its name'],
  ] as const)
    lines.push(line(at, by, 'clock.add', 'clock', id, { name }));
  return new Map([
    ['arrival', clockId(arrival)],
    ['name-day', clockId(named)],
  ]);
}

function holds(demo: Demo, place: (text: string) => string): readonly (readonly [HoldContent, number])[] {
  const day = (ago: number) => demo.at(ago).toISOString().slice(0, 10);
  return [
    [
      {
        ...newHold('Collision at berth 4'),
        places: [place('Port share/Manifests'), place('Port share/Incident reports')],
        from: day(210),
        until: day(150),
        matter: 'Inquiry of the maritime accident board into the collision at berth 4, case 26-114',
        custodians: ['tove.lindqvist@brindlestrait.example', 'magnus.reyer@brindlestrait.example'],
      },
      118,
    ],
    [
      {
        ...newHold('Tax audit 2024'),
        places: [place('Freight share/Invoices'), place('Accounts share')],
        matter: 'Audit of the freight accounts by the tax office, letter of 3 March',
        custodians: ['sanne.holt@brindlestrait.example'],
      },
      90,
    ],
    [
      {
        ...newHold('Complaint of a steward'),
        places: [place('Crew share/Certificates')],
        from: day(420),
        until: day(60),
        matter: 'Complaint against the medical office, labour court 26-0883',
        custodians: ['osei.darko@brindlestrait.example'],
      },
      33,
    ],
  ];
}
