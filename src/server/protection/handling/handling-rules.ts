import {
  firstHandlingRule,
  HandlingRuleContent,
  HandlingRuleDraft,
  handlingRuleSentence,
  handlingVocabulary,
  OF_BEFORE,
  type HandlingNames,
} from '../../../core/protection/handling/handling-rule.ts';
import { CHANNEL_WORDS, LEADS_TO, type Channel } from '../../../core/protection/handling/channel.ts';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import type { Refusal } from '../../../core/refusal.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import type { Json } from '../../../core/rules/change.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { accountOptions } from '../../accounts/account-names.ts';
import { groupOptions, missingGroups } from '../../accounts/staff/group-options.ts';
import { nesting } from '../../accounts/staff/staff.ts';
import { itemNames } from '../../holdings/offers.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import type { Queries } from '../../store/pool.ts';
import { deviceGroupNames } from '../devices/device-groups.ts';
import { listNamedGroups } from './named-groups.ts';

/** Languages in which people are told why something was asked or stopped. */
export const SAID_IN = { en: 'English', da: 'Danish', sv: 'Swedish', de: 'German' } as const;

/** What may be done with data in motion, by its number. */
export const HANDLING_RULE: RuleKind<HandlingRuleContent> = {
  object: 'handling rule',
  content: HandlingRuleContent,
  draft: HandlingRuleDraft,
  upgrades: [(content) => ({ ...OF_BEFORE, ...(content as Record<string, Json>) }) as Json],
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/handling/${encodeURIComponent(String(id))}`,
  refersTo: ({ towards, networks, devices }) => [
    ...[...towards.groups, ...networks].map((id) => ({ object: 'named group', id })),
    ...devices.map((id) => ({ object: 'device group', id })),
  ],
  text: async (store, _id, content) =>
    sentenceText(handlingRuleSentence(content, await handlingNames(store)), content),
  vocabulary: async (store) => handlingVocabulary(EVERY_SLOT, await handlingNames(store)),
  // Addresses of people are personal; the ledger tells that they were changed.
  redact: (difference) =>
    ['who', 'but', 'first'].includes(String(difference.path[0])) ? withoutAddresses(difference) : difference,
  removed: () => Promise.resolve(),
  async blocks(store, _id, content) {
    const names = await handlingNames(store);
    const faults: Refusal['fields'][number][] = lensFaults(content.lens, names.items).map((f) => ({
      field: 'lens',
      message: f.words,
    }));
    const groups = await nesting(store);
    for (const field of ['who', 'but', 'first'] as const)
      faults.push(...missingGroups(groups, field, content[field]));
    const known = new Map(names.named.map((g) => [g.value, g]));
    for (const id of content.towards.groups) {
      const group = known.get(id);
      const ways = Object.keys(content.channels) as Channel[];
      if (!group) faults.push({ field: 'towards.groups', message: 'A group that it names is gone.' });
      else if (!ways.some((w) => LEADS_TO[w] === group.kind))
        faults.push({
          field: 'towards.groups',
          message: `“${group.words}” is of ${group.kind}; nothing that ${ways.map((w) => CHANNEL_WORDS[w]).join(' or ')} leads there.`,
        });
    }
    for (const id of content.networks)
      if (!known.has(id)) faults.push({ field: 'networks', message: 'A group that it names is gone.' });
    for (const id of content.devices)
      if (!names.deviceGroups.some((g) => g.value === id))
        faults.push({ field: 'devices', message: 'A group of devices that it names is gone.' });
    if (content.keeps.copy || content.keeps.quarantine)
      for (const address of content.keeps.openers)
        if (!names.accounts.some((a) => a.value === address))
          faults.push({ field: 'keeps.openers', message: `${address} may not open what is kept.` });
    const speaks = Object.values(content.channels).some((step) => step !== 'record');
    if (speaks && !content.says['en'])
      faults.push({ field: 'says.en', message: 'Write what the person reads who is asked or stopped.' });
    return faults;
  },
};

/** A content with every slot there is, for the words of changes. */
const EVERY_SLOT: HandlingRuleContent = {
  ...firstHandlingRule('x', Object.fromEntries(Object.keys(CHANNEL_WORDS).map((c) => [c, 'ask']))),
  keeps: { copy: true, quarantine: true, openers: [], days: 30 },
  towards: { is: 'among', groups: [] },
};

/** Addresses of people in a change, masked. */
export function withoutAddresses<T extends object>(difference: T): T {
  const mask = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(mask)
      : typeof value === 'string' && value.includes('@')
        ? 'somebody'
        : value;
  return Object.fromEntries(
    Object.entries(difference).map(([k, v]) => [k, k === 'path' ? (v as unknown) : mask(v)]),
  ) as T;
}

export async function handlingNames(store: Queries): Promise<HandlingNames> {
  const [items, groups, named, deviceGroups, accounts] = await Promise.all([
    itemNames(store),
    nesting(store),
    listNamedGroups(store),
    deviceGroupNames(store),
    accountOptions(store, 'protection.evidence'),
  ]);
  return {
    items: itemVocabulary(items),
    people: groupOptions(groups),
    deviceGroups,
    accounts,
    named: named.map((g) => ({
      ...{ value: g.id, words: g.name, kind: g.kind, detail: `${g.members} ${g.kind}` },
    })),
    languages: SAID_IN,
  };
}

export interface ListedHandlingRule {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly channels: HandlingRuleContent['channels'];
}

/** By name. */
export async function listHandlingRules(store: Queries): Promise<readonly ListedHandlingRule[]> {
  return (await listRules(store, HANDLING_RULE)).map(({ content, ...rest }) => ({
    ...rest,
    channels: content.channels,
  }));
}

/** Adds a rule as a draft; its id. */
export function addHandlingRule(
  tx: Queries,
  now: Date,
  by: number | null,
  content: HandlingRuleContent,
): Promise<string> {
  return addNumberedRule(tx, now, HANDLING_RULE, by, content);
}
