import { groupMark, type Reached } from '../../src/core/accounts/staff/audience.ts';
import { parseLens } from '../../src/core/lens/lens-text.ts';
import { BUILT_IN } from '../../src/core/protection/lookouts/built-in.ts';
import { firstLookout, type LookoutContent } from '../../src/core/protection/lookouts/lookout-content.ts';
import {
  isWatched,
  sightMs,
  type Watch,
  type WatchedActs,
} from '../../src/core/protection/lookouts/lookout.ts';
import { firstViewRule } from '../../src/core/protection/view/view-rule.ts';
import { addViewRule, VIEW_RULE } from '../../src/server/protection/view/view-rules.ts';
import { Watcher, type Raised } from '../../src/core/protection/lookouts/watcher.ts';
import { eventsSince, type KeptEvent } from '../../src/server/protection/activity/event-store.ts';
import { addStep, raiseAlert, showAlerts } from '../../src/server/protection/alerts/raise-alert.ts';
import { addLookout, LOOKOUT, type StandingLookout } from '../../src/server/protection/lookouts/lookouts.ts';
import { remember, watchedOnly } from '../../src/server/protection/lookouts/watch-events.ts';
import { insertRule } from '../../src/server/rules/rule-store.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';
import { Random } from '../random.ts';
import { stand, type DemoState } from '../stand.ts';

const DAY = 86_400_000;
/** They are on since then. */
const DAYS_ON = 60;
const LEFT_OPEN = 4;

const own = (
  name: string,
  watch: Partial<Watch>,
  more: Partial<Omit<LookoutContent, 'name' | 'watch'>>,
  state: DemoState,
) => ({ content: { ...firstLookout(name, watch), ...more }, state });

const QUIET = { from: '20:00', to: '07:00', zone: 'Europe/Copenhagen' };
const OWN = [
  own(
    'Cards into forms, again',
    {
      ...{ outcomes: ['stop'], channels: ['web form'], lens: parseLens('data one of "payment-card"') },
      when: { is: 'more than', count: 3, minutes: 1440, by: 'person' },
    },
    {
      ...{ severity: 'high', because: 'Somebody is told and does it again: talk to them.' },
      tell: { mail: ['ines.abara@brindlestrait.example'], hooks: [], mostADay: 5, quiet: QUIET },
    },
    'in force',
  ),
  own(
    'Passport lists to sticks',
    {
      ...{ channels: ['removable drive'], lens: parseLens('data one of "passport"') },
      when: { is: 'more than', count: 3, minutes: 10_080, by: 'person' },
    },
    { because: 'One is for the ship; many are for somebody else.' },
    'in force',
  ),
  own(
    'Health notes to an assistant',
    {
      ...{ channels: ['AI assistant'], lens: parseLens('data one of "health-condition"') },
      when: { is: 'more than', count: 2, minutes: 43_200, by: 'person' },
    },
    { because: 'Data concerning health, Art. 9 GDPR.' },
    'in force',
  ),
  own(
    'Payroll by mail, more than usual',
    {
      ...{ channels: ['mail'], lens: parseLens('data one of "iban"') },
      when: { is: 'unusual', days: 30, by: 'everybody' },
    },
    { because: 'Once a month is payday; twice is something else.' },
    'in force',
  ),
  own(
    'Much from one device',
    { acts: ['copy'], when: { is: 'more than', count: 6, minutes: 480, by: 'device' } },
    { category: 'devices', severity: 'low' },
    'rehearsing',
  ),
  own(
    'Trainees and what is strictly confidential',
    {
      ...{ who: [groupMark('Trainees')], lens: parseLens('level one of "strictly-confidential"') },
      when: { is: 'every time' },
    },
    { severity: 'low', from: null, because: 'While they learn, we look along.' },
    'paused',
  ),
] as const;

const SOLVED = [
  'Talked to them; the list is off the drive.',
  'The form was for a refund; they use the payment page now.',
  'Their manager knows, and so do they.',
  'It was taken back, and the folder closed.',
];
const NONE = [
  'The authority had asked for the lists of the whole week.',
  'Inventory of lifeboats; the drive is ours.',
  'Moved office, and with it their files.',
];

const VIEW: readonly (readonly [
  name: string,
  days: number,
  watch: Partial<WatchedActs>,
  state: DemoState,
])[] = [
  ['What was asked or stopped, for two years', 730, { outcomes: ['ask', 'stop'] }, 'in force'],
  ['Timetables that are printed', 0, { acts: ['print'], lens: parseLens('level one of "open"') }, 'draft'],
  ['Sign-ins for half a year', 180, { kinds: ['sign-in'] }, 'in force'],
];

/** Three rules about what is kept in view. */
async function loadView(demo: Demo): Promise<void> {
  const { tx, lines } = demo;
  for (const [name, days, watch, state] of VIEW) {
    const officer = demo.person('Ines Abara');
    const begun = firstViewRule(name, days);
    const content = { ...begun, watch: { ...begun.watch, ...watch } };
    const id = await addViewRule(tx, demo.at(DAYS_ON), officer, content);
    lines.push(line(demo.at(DAYS_ON), officer, 'view-rule.add', 'view rule', id, { name }));
    await stand(demo, VIEW_RULE, id, content, state, demo.at(DAYS_ON), officer);
  }
}

/** Twelve lookouts, and what those that are on raised since, looked into as weeks go by; the last ones still open. */
export async function loadLookouts(demo: Demo, people: readonly Reached[]): Promise<void> {
  const { tx, lines } = demo;
  const officer = demo.person('Ines Abara');
  const when = demo.at(DAYS_ON);
  const on: StandingLookout[] = [];
  const begun = async (id: string, content: LookoutContent, state: DemoState) => {
    lines.push(line(when, officer, 'lookout.add', 'lookout', id, { name: content.name }));
    await stand(demo, LOOKOUT, id, content, state, when, officer);
    if (state === 'in force') on.push({ id, version: 1, since: when.toISOString(), content });
  };
  for (const [id, content] of Object.entries(BUILT_IN)) {
    await insertRule(tx, when, LOOKOUT, id, content, null);
    await begun(id, content, 'in force');
  }
  for (const { content, state } of OWN)
    await begun(await addLookout(tx, when, officer, content), content, state);
  // Somebody guesses at night; the desk tells of it once the ledger is sealed.
  const guessed = demo.person('Magnus Reyer');
  for (let n = 0; n < 11; n++)
    lines.push(
      line(new Date(demo.at(1).getTime() + n * 40_000), 'system', 'session.refuse', 'account', guessed, {
        device: 'unknown',
      }),
    );
  await loadView(demo);
  demo.tell('What lookouts raised …');
  await raisePast(demo, on, people);
}

async function raisePast(
  demo: Demo,
  lookouts: readonly StandingLookout[],
  people: readonly Reached[],
): Promise<void> {
  const { tx, now } = demo;
  const by = new Map(people.map((p) => [p.address, p]));
  const fixed = { deviceGroups: new Set<string>(), named: new Map(), today: now.toISOString().slice(0, 10) };
  const all: { lookout: StandingLookout; raised: Raised; times: ReadonlyMap<string, string> }[] = [];
  for (const lookout of lookouts) {
    const { watch } = lookout.content;
    const watcher = new Watcher(watch);
    const times = new Map<string, string>();
    const seen: KeptEvent[] = [];
    const from = new Date(Date.parse(lookout.since) - sightMs(watch));
    for await (const part of eventsSince(tx, from, now, watchedOnly(watch)))
      for (const told of part) {
        const { event, device } = told;
        const situation = {
          ...fixed,
          person: by.get(event.person) ?? { address: event.person, groups: new Map<string, number>() },
        };
        if (!isWatched(watch, event, situation)) continue;
        seen.push(told);
        times.set(event.id, event.at);
        const raised = watcher.see(event, device, situation);
        if (raised && event.at >= lookout.since) all.push({ lookout, raised, times });
      }
    await tx.run('INSERT INTO lookout_sight (lookout, version) VALUES (?, 1)', [lookout.id]);
    if (watch.when.is !== 'every time')
      await remember(tx, lookout.id, seen, ({ event, device }) => watcher.keyOf(event, device));
  }
  await handle(
    demo,
    all.toSorted((a, b) => (a.raised.at < b.raised.at ? -1 : 1)),
  );
}

/** Raises them one after the other, and has the officer end each some days later. */
async function handle(
  demo: Demo,
  all: readonly { lookout: StandingLookout; raised: Raised; times: ReadonlyMap<string, string> }[],
): Promise<void> {
  const { tx, now } = demo;
  const random = new Random(2026);
  const officer = demo.person('Ines Abara');
  const open = new Map<number, { at: number; severity: string }>();
  const end = async (alert: number, at: number) => {
    const aside = random.chance(0.3);
    const note = random.pick(aside ? NONE : SOLVED);
    const taken = new Date(at - random.below(20 * 3600) * 1000);
    await addStep(tx, taken, alert, 'look into', officer, '');
    await addStep(tx, new Date(at), alert, aside ? 'set aside' : 'solve', officer, note);
    await tx.run('UPDATE alert SET state = ?, note = ?, ended_at = ?, assigned_to = ? WHERE id = ?', [
      ...[aside ? 'set aside' : 'solved', note, toDatetime(new Date(at)), officer, alert],
    ]);
    open.delete(alert);
  };
  for (const { lookout, raised, times } of all) {
    const at = Date.parse(raised.at);
    for (const [alert, { at: since }] of open)
      if (since < at - 2 * DAY) await end(alert, since + DAY + random.below(DAY / 2));
    const alert = await raiseAlert(tx, new Date(at), lookout, raised, times);
    if (!open.has(alert)) open.set(alert, { at, severity: lookout.content.severity });
  }
  // What is told by letter was told then.
  await tx.run('UPDATE alert SET tell_at = NULL');
  const left = [...open].toSorted(
    ([, a], [, b]) => Number(b.severity === 'high') - Number(a.severity === 'high') || b.at - a.at,
  );
  for (const [alert, { at }] of left.slice(LEFT_OPEN))
    await end(alert, Math.min(at + DAY / 3, now.getTime() - 600_000));
  const [, , third] = left;
  if (third) {
    await tx.run("UPDATE alert SET state = 'looked into', assigned_to = ? WHERE id = ?", [officer, third[0]]);
    await addStep(tx, new Date(now.getTime() - 3_600_000), third[0], 'look into', officer, '');
  }
  await showAlerts(tx);
}
