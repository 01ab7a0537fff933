import { EVERYONE, EVERYONE_HERE, sameGrant, type GrantLine, type LinkLine } from '../estate/estate-line.ts';
import type { Estate } from '../estate/estate.ts';
import type { AccessChange, AccessStep } from './access-change.ts';

/** What somebody, or a group, is given by its own name: grants, links, memberships and places that are theirs. */
interface Given {
  readonly grants: readonly GrantLine[];
  readonly links: readonly LinkLine[];
  readonly groups: readonly string[];
  readonly owned: readonly string[];
}

export function givenTo({ people, tree, grants, links }: Estate, id: string): Given {
  return {
    grants: [...grants.values()].flat().filter((g) => g.to === id),
    links: [...links.values()].flat().filter((l) => Array.isArray(l.to) && l.to.includes(id)),
    groups: people.groups.flatMap((g) => (g.members.includes(id) ? [g.id] : [])),
    owned: tree.places.flatMap((p) => (p.owner === id ? [p.id] : [])),
  };
}

/** Gives others what one has by its own name, but for what is denied to it and what it owns; what they have stays. */
export function copied(estate: Estate, from: string, to: readonly string[]): AccessChange {
  const given = givenTo(estate, from);
  const steps: AccessStep[] = [];
  for (const other of new Set(to)) {
    if (other === from) continue;
    const has = givenTo(estate, other);
    for (const g of given.grants) {
      const grant = { ...g, to: other, by: null, at: null };
      if (!g.deny && !has.grants.some((h) => sameGrant(h, grant)))
        steps.push({ is: 'grant', act: 'add', grant });
    }
    for (const group of given.groups)
      if (group !== other && !has.groups.includes(group))
        steps.push({ is: 'member', act: 'add', group, member: other });
  }
  return [...steps, ...withRecipients(given.links, (link) => [...new Set([...link, ...to])])];
}

/** Takes away all that somebody has by their own name. A place without its owner is nobody’s. */
export function cleared(estate: Estate, id: string): AccessChange {
  const { grants, links, groups, owned } = givenTo(estate, id);
  return [
    ...grants.map((grant): AccessStep => ({ is: 'grant', act: 'take', grant })),
    ...withRecipients(links, (to) => to.filter((t) => t !== id)),
    ...groups.map((group): AccessStep => ({ is: 'member', act: 'take', group, member: id })),
    ...owned.map((place): AccessStep => ({ is: 'owner', place, before: id, after: null })),
  ];
}

/** Takes entries out of the list of a file or folder and puts others in; what is left is one that a file system takes. */
export function relisted(
  { tree }: Estate,
  place: string,
  take: readonly string[],
  add: readonly string[],
): AccessChange {
  const before = tree.places[tree.number(place) ?? -1]?.posix?.acl;
  if (!before) return [];
  const named = (e: string) => /^(?:user|group):\d+:/.test(e);
  const subject = (e: string) => e.slice(0, e.lastIndexOf(':'));
  const kept = before.filter(
    (e) => !(named(e) && take.includes(e)) && !add.some((a) => subject(a) === subject(e)),
  );
  const entries = [...kept, ...add];
  const hasNamed = entries.some(named);
  const without = entries.filter((e) => !e.startsWith('mask:'));
  // Named entries need a mask (POSIX.1e draft 17, 23.1.2): one that limits none of those that come.
  const group = without.find((e) => e.startsWith('group::'));
  const old = entries.find((e) => e.startsWith('mask:'));
  const bits = [...add.filter(named), old ?? group ?? 'mask::---'].map((e) => e.slice(-3));
  const mask = `mask::${[0, 1, 2].map((i) => bits.find((b) => b[i] !== '-')?.[i] ?? '-').join('')}`;
  const after = hasNamed ? [...without, mask] : without;
  return after.length === before.length && after.every((e) => before.includes(e))
    ? []
    : [{ is: 'list', place, before: [...before], after }];
}

/** Closes somebody’s account. */
export function closed({ people }: Estate, id: string): AccessChange {
  const person = people.persons[people.number(id) ?? -1];
  return person?.state === 'open' ? [{ is: 'account', person: id, before: 'open', after: 'disabled' }] : [];
}

/** Gives another what one has, and takes it from them; what they own goes, too. */
export function moved(estate: Estate, from: string, to: string): AccessChange {
  if (from === to) return [];
  const { links, owned } = givenTo(estate, from);
  const rest = cleared(estate, from).filter((s) => s.is !== 'link' && s.is !== 'owner');
  return [
    ...copied(estate, from, [to]).filter((s) => s.is !== 'link'),
    ...withRecipients(links, (all) => [...new Set(all.map((t) => (t === from ? to : t)))]),
    ...rest,
    ...owned.map((place): AccessStep => ({ is: 'owner', place, before: from, after: to })),
  ];
}

/** A link with other recipients is another; with none left it is gone. */
function withRecipients(
  links: readonly LinkLine[],
  change: (to: readonly string[]) => readonly string[],
): readonly AccessStep[] {
  return links.flatMap((link): AccessStep[] => {
    if (typeof link.to === 'string') return [];
    const to = change(link.to);
    if (to.length === link.to.length && to.every((t, i) => t === (link.to as readonly string[])[i]))
      return [];
    const taken: AccessStep = { is: 'link', act: 'take', link };
    return to.length === 0 ? [taken] : [taken, { is: 'link', act: 'add', link: { ...link, to: [...to] } }];
  });
}

/**
 * Ends inheritance at a place. Where it is to stay as it is for now, what was inherited is given there itself: grants, links,
 * and everything to those who own what lies above. Where something above is denied that is not so for all, as nearer grants
 * beat a denial farther away, and at one place a denial wins: a rehearsal tells for whom.
 */
export function broken({ tree, grants, links }: Estate, place: string, keeps: boolean): AccessChange {
  const at = tree.number(place);
  if (at === undefined || tree.places[at]?.inherits !== true) return [];
  const [, ...above] = tree.chain(at);
  const own: GrantLine[] = [...(grants.get(at) ?? [])];
  const added: AccessStep[] = [];
  const add = (grant: GrantLine) => {
    if (own.some((o) => sameGrant(o, grant))) return;
    own.push(grant);
    added.push({ is: 'grant', act: 'add', grant });
  };
  for (const up of keeps ? above : []) {
    const line = tree.places[up];
    for (const g of grants.get(up) ?? []) add({ ...g, place });
    if (line?.owner)
      add({
        ...{ type: 'grant', place, to: line.owner, strength: 'give', deny: false, only: false },
        ...{ until: null, by: null, at: null },
      });
    for (const l of links.get(up) ?? [])
      added.push({ is: 'link', act: 'add', link: { ...l, place, id: `${l.id}, kept at ${place}` } });
  }
  return [...added, { is: 'inherits', place, before: true, after: false }];
}

/** Has a place take over again what is given above it. */
export function restored({ tree }: Estate, place: string): AccessChange {
  const line = tree.places[tree.number(place) ?? -1];
  return line && !line.inherits ? [{ is: 'inherits', place, before: false, after: true }] : [];
}

/** Gives a group what others have at a place, in their stead: what everyone has, where nobody else is named. */
export function narrowed(
  { tree, grants }: Estate,
  place: string,
  group: string,
  instead: readonly string[] = [EVERYONE, EVERYONE_HERE],
): AccessChange {
  const here = grants.get(tree.number(place) ?? -1) ?? [];
  const wide = here.filter((g) => !g.deny && g.to !== group && instead.includes(g.to));
  const added: GrantLine[] = [];
  for (const g of wide) {
    const grant = { ...g, to: group, by: null, at: null };
    if (![...here, ...added].some((h) => sameGrant(h, grant))) added.push(grant);
  }
  return [
    ...added.map((grant): AccessStep => ({ is: 'grant', act: 'add', grant })),
    ...wide.map((grant): AccessStep => ({ is: 'grant', act: 'take', grant })),
  ];
}

/** The smallest group, but for some, in which all of some people are, by number; nobody needs one. `undefined` where none holds them all. */
export function smallestGroupOf(
  { people }: Estate,
  who: readonly number[],
  except: readonly string[] = [],
): string | undefined {
  if (who.length === 0) return undefined;
  let best: { readonly id: string; readonly size: number } | undefined;
  for (const { id } of people.groups) {
    if (except.includes(id)) continue;
    const all = people.of(id);
    if ((best && (all.size > best.size || (all.size === best.size && id > best.id))) || all.size < who.length)
      continue;
    if (who.every((n) => all.has(n))) best = { id, size: all.size };
  }
  return best?.id;
}

/** Gives a link an end, or another. */
export function ended({ tree, links }: Estate, place: string, link: string, until: string): AccessChange {
  const found = links.get(tree.number(place) ?? -1)?.find((l) => l.id === link);
  if (!found || found.until === until) return [];
  return [
    { is: 'link', act: 'take', link: found },
    { is: 'link', act: 'add', link: { ...found, until } },
  ];
}
