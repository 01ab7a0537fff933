import type { LevelContent } from '../../../core/protection/levels/level-content.ts';
import {
  publishedLevels,
  publishedWords,
  type PublishedLevels,
  type PublishedNames,
  type WeighedPublication,
} from '../../../core/protection/publishing/published-levels.ts';
import type { Ranks } from '../../../core/protection/rules/level-verdict.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { everyMember, findMember, type KnownMember } from '../../accounts/staff/staff.ts';
import type { Context } from '../../context.ts';
import { readRule } from '../../rules/rule-store.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import { knownLevels, levelRanks, levelsInForce } from '../levels/levels.ts';
import { PUBLICATION } from './publications.ts';

/** What is published now, with all that is needed to say to whom. */
export interface Publishing {
  readonly publications: readonly (WeighedPublication & { readonly name: string })[];
  /** Of levels in force alone. */
  readonly ranks: Ranks;
  readonly levels: ReadonlyMap<string, LevelContent>;
  readonly names: PublishedNames;
}

/** The publications in force; and one as its draft stands, as if that were in force. */
export async function publishing(ctx: Context, looked?: string): Promise<Publishing> {
  const [inForce, levels, ranks, known] = await Promise.all([
    rulesInForce(ctx.store, PUBLICATION),
    levelsInForce(ctx),
    levelRanks(ctx.store),
    knownLevels(ctx.store),
  ]);
  const publications =
    looked === undefined
      ? inForce
      : [
          ...inForce.filter((p) => p.id !== looked),
          { ...(await readRule(ctx.store, PUBLICATION, looked)).content, id: looked, version: 0 },
        ];
  return {
    publications,
    ranks: new Map([...ranks].filter(([id]) => levels.has(id))),
    levels,
    names: {
      level: (id) => levels.get(id)?.name ?? known.find((l) => l.id === id)?.name ?? `“${id}”`,
      publication: (id) => publications.find((p) => p.id === id)?.name ?? `publication ${id}`,
    },
  };
}

export function publishedTo(member: KnownMember, { publications, ranks }: Publishing): PublishedLevels {
  return publishedLevels(publications, member, ranks);
}

/** Somebody with what they are offered. Throws a RefusedError (404) for one who is not known, or has left. */
export async function memberOffered(
  ctx: Context,
  address: string,
): Promise<{ readonly member: KnownMember; readonly offered: PublishedLevels; readonly of: Publishing }> {
  const [member, of] = await Promise.all([findMember(ctx, address), publishing(ctx)]);
  if (!member)
    throw new RefusedError(
      'Nobody who works here has this address.',
      [{ field: 'person', message: 'The e-mail address of somebody on the list of people.' }],
      404,
    );
  return { member, offered: publishedTo(member, of), of };
}

/** The same in words, for the desk. */
export async function explainOffered(ctx: Context, address: string) {
  const { member, offered, of } = await memberOffered(ctx, address);
  return {
    name: member.name,
    address: member.address,
    unit: member.unit,
    groups: [...member.groups].map(([name, steps]) => ({ name, steps })),
    levels: offered.levels.map((id) => ({
      id,
      name: of.names.level(id),
      colour: of.levels.get(id)?.colour ?? '',
      isStart: id === offered.start,
    })),
    words: publishedWords(offered, of.names),
  };
}

export interface PublicationOutlook {
  /** People who are here today. */
  readonly people: number;
  /** For whom it is, and of them those for whom it decides order and beginning. */
  readonly covered: number;
  readonly decides: number;
  /** People who would be offered more, fewer, or begin with another level than now. */
  readonly gain: number;
  readonly lose: number;
  readonly begins: number;
  readonly changes: readonly { readonly level: string; readonly gained: number; readonly lost: number }[];
  readonly sample: readonly {
    readonly name: string;
    readonly address: string;
    readonly words: readonly string[];
  }[];
}

const SAMPLE = 3;

/** What a publication as its draft stands would change for all people, against what is published now. */
export async function publicationOutlook(ctx: Context, id: string): Promise<PublicationOutlook> {
  const [before, after] = [await publishing(ctx), await publishing(ctx, id)];
  let [people, covered, decides, gain, lose, begins] = [0, 0, 0, 0, 0, 0];
  const changes = new Map<string, { gained: number; lost: number }>();
  const count = (level: string, of: 'gained' | 'lost') => {
    const at = changes.get(level) ?? { gained: 0, lost: 0 };
    at[of]++;
    changes.set(level, at);
  };
  const sample: { name: string; address: string; words: readonly string[] }[] = [];
  for await (const member of everyMember(ctx)) {
    people++;
    const [was, is] = [publishedTo(member, before), publishedTo(member, after)];
    const isFor = is.by === id || is.lost.some((l) => l.id === id && l.because === 'another is nearer');
    if (isFor) covered++;
    if (is.by === id) decides++;
    const gained = is.levels.filter((l) => !was.levels.includes(l));
    const lost = was.levels.filter((l) => !is.levels.includes(l));
    for (const l of gained) count(l, 'gained');
    for (const l of lost) count(l, 'lost');
    if (gained.length > 0) gain++;
    if (lost.length > 0) lose++;
    if (was.start !== is.start) begins++;
    const isChanged = gained.length > 0 || lost.length > 0 || was.start !== is.start;
    if (sample.length < SAMPLE && isChanged)
      sample.push({ name: member.name, address: member.address, words: publishedWords(is, after.names) });
  }
  return {
    people,
    covered,
    decides,
    gain,
    lose,
    begins,
    changes: [...changes].map(([level, c]) => ({ level: after.names.level(level), ...c })),
    sample,
  };
}
