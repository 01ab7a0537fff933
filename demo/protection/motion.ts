import { belongsTo, withinOf } from '../../src/core/accounts/staff/staff.ts';
import { groupMark, type Reached } from '../../src/core/accounts/staff/audience.ts';
import { parseLens } from '../../src/core/lens/lens-text.ts';
import { heldRules, type ActivityEvent } from '../../src/core/protection/activity/event.ts';
import {
  CHANNELS,
  type Channel,
  type GroupKind,
  type MotionAct,
} from '../../src/core/protection/handling/channel.ts';
import { decide, type WeighedHandling } from '../../src/core/protection/handling/decision.ts';
import {
  firstHandlingRule,
  type HandlingRuleContent,
} from '../../src/core/protection/handling/handling-rule.ts';
import { NamedGroup } from '../../src/core/protection/handling/named-group.ts';
import type { Motion, MotionFinding } from '../../src/core/protection/handling/motion.ts';
import { insertEvents, type KeptEvent } from '../../src/server/protection/activity/event-store.ts';
import { addDeviceGroup } from '../../src/server/protection/devices/device-groups.ts';
import { insertDevice } from '../../src/server/protection/devices/devices.ts';
import { addHandlingRule, HANDLING_RULE } from '../../src/server/protection/handling/handling-rules.ts';
import { addNamedGroup } from '../../src/server/protection/handling/named-groups.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { demoStaff } from '../accounts/staff.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';
import { Random } from '../random.ts';
import { stand, type DemoState } from '../stand.ts';
import { loadKept } from './kept.ts';
import { loadLookouts } from './lookouts.ts';

const DAY = 86_400_000;
/** Days that are made up act by act; the year before is made of them. */
const DAYS = 30;
const MONTHS_BEFORE = 11;

const GROUPS: readonly (readonly [
  name: string,
  kind: GroupKind,
  ours: boolean,
  members: readonly string[],
])[] = [
  ['Our own sites and mail', 'destinations', true, ['brindlestrait.example', 'brindlestrait.localhost']],
  ['Payment sites', 'destinations', false, ['paylock.example', 'cards.strait-bank.example']],
  ['AI assistants', 'destinations', false, ['askharbour.example', 'lotsen.example/chat']],
  [
    'Customs and port authorities',
    'destinations',
    false,
    ['customs.halmsund.example', 'port.kaltenhagen.example'],
  ],
  ['Web mail', 'destinations', false, ['postbag.example', 'letterbox.example']],
  ['Travel agents', 'destinations', false, ['strait-tours.example', 'northern-lights.example']],
  ['Ship’s own drives', 'drives', true, ['Kaltdrive BR-*']],
  ['Drives nobody knows', 'drives', false, ['Noname *']],
  ['Office printers', 'printers', true, ['Halmsund *', 'Østervig *', 'Kaltenhagen *', 'Marrow Quay *']],
  ['Printers on board', 'printers', true, ['Bridge *', 'Purser *']],
  ['Port share', 'shares', true, ['//port/boarding', '//port/incidents']],
  ['Crew share', 'shares', true, ['//crew']],
  ['Office networks', 'networks', true, ['10.10.0.0/16', 'Brindle Office']],
  ['Networks on board', 'networks', true, ['10.20.0.0/16']],
  ['Ship Wi-Fi for guests', 'networks', false, ['10.99.0.0/16', 'Brindle Guest']],
  ['Booking programs', 'programs', true, ['booking.exe', 'manifest*.exe']],
];

const DEVICE_GROUPS = ['Offices', 'Terminals', 'On board', 'Kiosks', 'Laptops'] as const;

interface DemoRule {
  readonly content: (ids: ReadonlyMap<string, string>) => HandlingRuleContent;
  readonly state: DemoState;
  readonly daysAgo: number;
}
const rule = (
  name: string,
  channels: HandlingRuleContent['channels'],
  lens: string,
  state: DemoState,
  daysAgo: number,
  more: Partial<Omit<HandlingRuleContent, 'towards'>> & {
    readonly towards?: readonly [HandlingRuleContent['towards']['is'], ...string[]];
  } = {},
): DemoRule => ({
  ...{ state, daysAgo },
  content: (ids) => {
    const { towards: [is, ...groups] = ['anywhere outside'], ...rest } = more;
    return {
      ...firstHandlingRule(name, channels),
      ...{ lens: parseLens(lens), towards: { is, groups: groups.map((g) => ids.get(g) ?? '') } },
      ...rest,
    };
  },
});

const NAMES =
  'people at least 10 or data one of "passport" or level one of "confidential", "strictly-confidential"';
const RULES: readonly DemoRule[] = [
  rule('Cards into web forms', { 'web form': 'stop' }, 'matches:payment-card at least 2', 'in force', 360, {
    ...{ towards: ['not among', 'Payment sites'], because: 'What the card schemes ask of us.' },
    says: {
      en: 'These are card numbers. They belong on the payment page, and nowhere else.',
      da: 'Det er kortnumre. De hører til på betalingssiden og ingen andre steder.',
      sv: 'Det är kortnummer. De hör hemma på betalsidan och ingen annanstans.',
      de: 'Das sind Kartennummern. Sie gehören auf die Zahlungsseite und nirgends sonst.',
    },
  }),
  rule('Passengers on sticks', { 'removable drive': 'ask' }, NAMES, 'rehearsing', 18, {
    towards: ['not among', 'Ship’s own drives'],
    ...{ because: 'Security of processing, Art. 32 GDPR.' },
    says: {
      en: 'This holds passengers’ data. Do you need it on this drive?',
      da: 'Her er data om passagerer. Skal det ligge på dette drev?',
      sv: 'Här finns uppgifter om passagerare. Behövs de på den här enheten?',
      de: 'Das enthält Daten von Reisenden. Brauchen Sie sie auf diesem Laufwerk?',
    },
  }),
  rule(
    'Health notes by mail',
    { mail: 'ask' },
    'data one of "health-condition" or document one of "assistance-request"',
    'in force',
    320,
    {
      because: 'Data concerning health, Art. 9 GDPR.',
    },
  ),
  rule(
    'Crew files to the AI assistant',
    { 'AI assistant': 'stop' },
    'people at least 1 or level one of "confidential", "strictly-confidential"',
    'in force',
    200,
    {
      ...{
        towards: ['among', 'AI assistants'],
        keeps: { copy: true, quarantine: false, openers: [], days: 60 },
      },
      because: 'Nobody has agreed with them on what becomes of it.',
    },
  ),
  rule(
    'Strictly confidential, printed',
    { printer: 'record' },
    'level one of "strictly-confidential"',
    'in force',
    300,
    {
      towards: ['anywhere'],
    },
  ),
  rule(
    'Payroll outside the network',
    { mail: 'ask', 'web form': 'ask', 'network share': 'ask' },
    'data one of "iban"',
    'draft',
    2,
    {
      who: [groupMark('Payroll')],
    },
  ),
  rule(
    'National numbers by short range',
    { 'short range': 'ask' },
    'data one of "dk-cpr", "se-personnummer"',
    'paused',
    40,
  ),
  rule(
    'Manifests to web mail',
    { mail: 'stop', 'web form': 'stop' },
    'document one of "boarding-manifest"',
    'in force',
    150,
    {
      ...{ towards: ['among', 'Web mail'], but: [groupMark('Privacy office')], alert: 'medium' },
      keeps: { copy: false, quarantine: true, openers: ['ines.abara@brindlestrait.example'], days: 30 },
      because: 'A private mailbox is nobody’s archive.',
    },
  ),
  rule(
    'Lists from remote sessions',
    { 'remote session': 'record', clipboard: 'record' },
    'people at least 25',
    'rehearsing',
    9,
  ),
];

interface Holder extends Reached {
  readonly device: number;
  readonly language: string;
  readonly groups: ReadonlyMap<string, number>;
  /** What its device tells of ends here. */
  readonly silentSince?: number;
}

/** Named groups, rules, devices, and a year of what was done on them. */
export async function loadMotion(demo: Demo): Promise<void> {
  const { tx, lines } = demo;
  const officer = demo.person('Ines Abara');
  const ids = new Map<string, string>();
  const named = new Map<string, NamedGroup>();
  for (const [name, kind, ours, members] of GROUPS) {
    const content = NamedGroup.parse({ name, kind, ours, members });
    const id = String(await addNamedGroup(tx, demo.at(370), officer, content));
    ids.set(name, id);
    named.set(id, content);
  }
  const rules: WeighedHandling[] = [];
  for (const { content: made, state, daysAgo } of RULES) {
    const when = demo.at(daysAgo);
    const content = made(ids);
    const id = await addHandlingRule(tx, when, officer, content);
    lines.push(line(when, officer, 'handling-rule.add', 'handling rule', id, { name: content.name }));
    await stand(demo, HANDLING_RULE, id, content, state, when, officer);
    if (state === 'in force') rules.push({ id, version: 1, content, broken: false });
  }
  const holders = await loadDevices(demo, officer);
  demo.tell('A year of activity …');
  await loadEvents(demo, holders, named, rules);
  await loadLookouts(demo, holders);
  await loadKept(demo);
}

/** 402 devices: most in step, four on MS Corrie silent since she sailed. */
async function loadDevices(demo: Demo, officer: number): Promise<readonly Holder[]> {
  const { tx, now } = demo;
  const random = new Random(402);
  const groups = new Map<string, number>();
  for (const name of DEVICE_GROUPS) groups.set(name, await addDeviceGroup(tx, demo.at(370), officer, name));
  const staff = demoStaff(now);
  const within = withinOf(staff);
  const people = staff.members.filter((m) => m.left === null && !m.groups.includes('Guests')).slice(0, 402);
  const holders: Holder[] = [];
  for (const [i, m] of people.entries()) {
    const atSea = m.unit.startsWith('MS ');
    const lost =
      m.unit.startsWith('MS Corrie') && holders.filter((h) => h.unit?.startsWith('MS Corrie')).length < 4;
    // The first of them is the laptop that somebody left on board.
    const left = lost && !holders.some((h) => h.silentSince !== undefined);
    const kind = left ? 'LT' : atSea ? 'BRIDGE' : random.chance(0.4) ? 'LT' : 'PC';
    const device = await insertDevice(tx, demo.at(365 - (i % 90)), {
      name: `${kind}-${String(1001 + i)}${lost ? ' MS Corrie' : ''}`,
      person: m.address,
      platform: random.pick(['Desktop 11', 'Desktop 10', 'Handheld 6']),
      can: [...CHANNELS],
    });
    const silentSince = demo.at(12 + (i % 3));
    await tx.run('UPDATE device SET seen_at = ?, bundle = 1, bundle_at = ? WHERE id = ?', [
      toDatetime(lost ? silentSince : new Date(now.getTime() - random.below(20 * 3600) * 1000)),
      toDatetime(demo.at(9)),
      device,
    ]);
    const of = [atSea ? 'On board' : m.unit.startsWith('Terminal') ? 'Terminals' : 'Offices'];
    if (kind === 'LT') of.push('Laptops');
    await tx.run('INSERT INTO device_membership (device_id, group_id) VALUES ?', [
      of.map((g) => [device, groups.get(g) ?? 0]),
    ]);
    holders.push({
      ...{ address: m.address, unit: m.unit, groups: belongsTo(m.groups, within) },
      ...{ device, language: random.pick(['en', 'da', 'sv', 'de']) },
      ...(lost ? { silentSince: silentSince.getTime() } : {}),
    });
  }
  return holders;
}

const WAYS: Readonly<Record<Channel, number>> = {
  ...{ 'removable drive': 9, 'network share': 24, printer: 20, clipboard: 6, 'remote session': 3 },
  ...{ 'short range': 1, mail: 24, 'web form': 10, 'AI assistant': 3 },
};
const ACT: Readonly<Record<Channel, MotionAct>> = {
  ...{ 'removable drive': 'copy', 'network share': 'copy', printer: 'print', clipboard: 'copy' },
  ...{ 'remote session': 'copy', 'short range': 'send', mail: 'send', 'web form': 'paste' },
  'AI assistant': 'paste',
};
const REASONS = [
  ...[
    'The authority asked for it',
    'The captain needs it on board',
    'Agreed with my manager',
    'For the printer on board',
  ],
  ...['Passenger asked for their own papers', 'Only a test', 'It is the list for the doctor'],
];

interface Thing {
  readonly name: string;
  readonly format: string;
  readonly document?: string;
  readonly level?: string;
  readonly people: readonly [number, number];
  readonly findings: readonly (readonly [detector: string, least: number, most: number])[];
}
const THINGS: Readonly<Record<string, readonly [weight: number, thing: Thing]>> = {
  plain: [52, { name: 'note', format: 'DOCX', people: [0, 0], findings: [] }],
  timetable: [14, { name: 'timetable', format: 'PDF', level: 'open', people: [0, 0], findings: [] }],
  manifest: [
    7,
    {
      ...{
        name: 'manifest',
        format: 'XLSX',
        document: 'boarding-manifest',
        level: 'confidential',
        people: [40, 420],
      },
      findings: [
        ['person-name', 40, 420],
        ['passport', 10, 380],
      ],
    },
  ],
  letter: [
    12,
    {
      name: 'letter',
      format: 'DOCX',
      level: 'internal',
      people: [1, 3],
      findings: [
        ['email', 1, 3],
        ['person-name', 1, 3],
      ],
    },
  ],
  assistance: [
    4,
    {
      ...{ name: 'assistance-request', format: 'DOCX', document: 'assistance-request', people: [1, 2] },
      ...{
        level: 'strictly-confidential',
        findings: [
          ['health-condition', 1, 4],
          ['person-name', 1, 2],
        ],
      },
    },
  ],
  cards: [2, { name: 'payments', format: 'text', people: [1, 6], findings: [['payment-card', 1, 6]] }],
  payroll: [
    3,
    {
      name: 'payroll',
      format: 'XLSX',
      level: 'strictly-confidential',
      people: [8, 60],
      findings: [
        ['iban', 8, 60],
        ['person-name', 8, 60],
      ],
    },
  ],
  phones: [
    4,
    {
      name: 'phone-numbers',
      format: 'DOCX',
      people: [10, 24],
      findings: [
        ['phone', 10, 24],
        ['person-name', 10, 16],
      ],
    },
  ],
  contacts: [
    2,
    {
      name: 'contacts',
      format: 'XLSX',
      level: 'internal',
      people: [12, 80],
      findings: [
        ['email', 12, 80],
        ['person-name', 12, 80],
      ],
    },
  ],
};
const WEIGHTS = Object.fromEntries(Object.entries(THINGS).map(([k, [w]]) => [k, w]));

function towardsOf(random: Random, channel: Channel): string[] {
  switch (channel) {
    case 'removable drive':
      return [
        random.chance(0.45)
          ? `Kaltdrive BR-${random.below(40) + 10}`
          : `${random.pick(['Noname', 'Otterstick'])} ${(random.below(0xffff) + 0x1000).toString(16).toUpperCase()}`,
      ];
    case 'network share':
      return [random.pick(['//port/boarding/2026', '//port/incidents', '//crew/rosters', '//port/lost'])];
    case 'printer':
      return [
        random.pick([
          'Halmsund 2nd floor',
          'Østervig desk',
          'Kaltenhagen office',
          'Bridge Hale',
          'Purser Corrie',
        ]),
      ];
    case 'mail':
      return random.chance(0.6)
        ? ['office@brindlestrait.example']
        : [
            random.pick([
              'desk@customs.halmsund.example',
              'me@postbag.example',
              'group@strait-tours.example',
              'ann@letterbox.example',
            ]),
          ];
    case 'web form':
      return [
        random.pick([
          'https://brindlestrait.example/book/pay',
          'https://shop.strait-tours.example/order',
          'https://paylock.example/pay',
          'https://forms.harbour-club.example/join',
        ]),
      ];
    case 'AI assistant':
      return [random.pick(['https://askharbour.example/', 'https://lotsen.example/chat/new'])];
    case 'remote session':
      return ['desk.brindlestrait.example'];
    case 'clipboard':
    case 'short range':
      return [];
  }
}

async function loadEvents(
  { tx, now }: Demo,
  holders: readonly Holder[],
  named: ReadonlyMap<string, NamedGroup>,
  rules: readonly WeighedHandling[],
): Promise<void> {
  const random = new Random(1926);
  const today = now.toISOString().slice(0, 10);
  const inOrder = holders.toSorted((a, b) => (a.address < b.address ? -1 : 1));
  // The clerk who pastes card numbers into a form of an agent’s.
  const clerk = inOrder.find((h) => h.unit?.startsWith('Terminal'));
  // Somebody who leaves at the end of the week, and copies.
  const leaver = inOrder.find((h) => h.unit?.startsWith('Payroll') || h.unit?.startsWith('Crew'));
  let part: KeptEvent[] = [];
  for (let day = DAYS - 1; day >= 0; day--) {
    const midnight = Date.parse(today) - day * DAY;
    const weekend = [0, 6].includes(new Date(midnight).getUTCDay());
    for (const holder of inOrder)
      for (let n = random.below(weekend ? 8 : 17); n > 0; n--) {
        const at = midnight + (6 * 3600 + random.below(13 * 3600)) * 1000 + random.below(1000);
        if (at >= (holder.silentSince ?? now.getTime())) continue;
        const event = oneEvent(random, at, holder, { named, rules, today });
        part.push({ event, device: holder.device });
      }
    if (leaver && day === 2)
      for (let n = 0; n < 14; n++) {
        const at = midnight + (15 * 3600 + n * 240 + random.below(200)) * 1000;
        const event = oneEvent(
          ...([random, at, leaver, { named, rules, today }] as const),
          ...([n % 3 === 0 ? 'payroll' : 'manifest', 'removable drive'] as const),
        );
        part.push({ event, device: leaver.device });
      }
    if (clerk && day < 4 && !weekend)
      for (let n = 0; n < 9; n++) {
        const at = midnight + (8 * 3600 + n * 700 + random.below(500)) * 1000;
        if (at >= now.getTime()) continue;
        const event = oneEvent(random, at, clerk, { named, rules, today }, 'cards', 'web form');
        part.push({ event, device: clerk.device });
      }
    if (part.length > 2000 || day === 0) {
      await insertEvents(tx, now, part);
      part = [];
    }
  }
  await repeatBefore(tx);
}

function oneEvent(
  random: Random,
  at: number,
  holder: Holder,
  where: { named: ReadonlyMap<string, NamedGroup>; rules: readonly WeighedHandling[]; today: string },
  what: string = random.weighted(WEIGHTS),
  channel: Channel = random.weighted(WAYS),
): ActivityEvent {
  const [, thing] = THINGS[what] as readonly [number, Thing];
  const between = ([least, most]: readonly [number, number]) => least + random.below(most - least + 1);
  const findings: MotionFinding[] = thing.findings.map(([detector, least, most]) => ({
    ...{ detector, matches: between([least, most]), confidence: 0.7 + random.below(30) / 100 },
  }));
  const text = channel === 'clipboard' || channel === 'web form' || channel === 'AI assistant';
  const day = new Date(at).toISOString().slice(0, 10);
  const item = {
    name: text && thing.format === 'text' ? '' : `${thing.name}-${day}.${thing.format.toLowerCase()}`,
    ...{
      format: text ? 'text' : thing.format,
      size: 2000 + random.below(900_000),
      people: between(thing.people),
    },
    ...{ level: thing.level ?? null, document: thing.document ?? null, origin: '' },
  };
  const motion: Motion = {
    ...{
      act: ACT[channel],
      channel,
      person: holder.address,
      towards:
        what === 'cards' && channel === 'web form'
          ? ['https://shop.strait-tours.example/order']
          : towardsOf(random, channel),
      program: '',
    },
    network: holder.unit?.startsWith('MS ') ? '10.20.4.7' : random.chance(0.9) ? '10.10.3.20' : '10.99.0.14',
    ...{ item, findings },
  };
  const decision = decide(motion, { person: holder, deviceGroups: new Set(), ...where }, where.rules);
  const held = heldRules(decision);
  const false_ = thing.name === 'phone-numbers' && random.chance(0.5);
  const answer =
    decision.outcome === 'ask'
      ? false_
        ? ('false alarm' as const)
        : random.chance(0.72)
          ? ('went on' as const)
          : ('turned back' as const)
      : decision.outcome === 'stop' && random.chance(0.03)
        ? ('false alarm' as const)
        : null;
  return {
    ...{ id: random.bytes(16).toString('hex'), at: new Date(at).toISOString(), kind: 'device' },
    ...{ ...motion, outcome: decision.outcome, rules: held, counted: [], answer },
    reason: answer === 'went on' ? random.pick(REASONS) : '',
    change: null,
  };
}

/** The months before, as the last one was; other numbers, and a little fewer. */
async function repeatBefore(tx: Demo['tx']): Promise<void> {
  for (let month = 1; month <= MONTHS_BEFORE; month++) {
    const days = month * DAYS;
    const id = "UNHEX(MD5(CONCAT(HEX(id), '-', ?)))";
    const which = `MOD(CONV(HEX(LEFT(id, 1)), 16, 10), 16) >= ?`;
    const { changed } = await tx.run(
      `INSERT INTO activity_event (at, id, taken_at, kind, person, act, channel, device_id, outcome, answer, rule_id, level, detail)
       SELECT at - INTERVAL ? DAY, ${id}, taken_at - INTERVAL ? DAY, kind, person, act, channel, device_id, outcome, answer, rule_id, level, detail
       FROM activity_event WHERE at >= NOW() - INTERVAL ${DAYS} DAY AND ${which}`,
      [days, month, days, month % 5],
    );
    await tx.run(
      `INSERT INTO activity_finding (detector, at, id, matches)
       SELECT detector, at - INTERVAL ? DAY, ${id}, matches FROM activity_finding
       WHERE at >= NOW() - INTERVAL ${DAYS} DAY AND ${which}`,
      [days, month, month % 5],
    );
    await tx.run('UPDATE activity_count SET n = n + ? WHERE id = 1', [changed]);
  }
}
