import { lowering } from '../../../core/protection/publishing/published-levels.ts';
import { stampedLevel } from '../../../core/protection/levels/level-content.ts';
import { filled, UnstampableError, type CarriedLevel } from '../../../core/protection/stamp/marking.ts';
import { dayText } from '../../../core/text/day.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Program } from '../../accounts/programs/program.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { READING } from '../../http/shares.ts';
import { levelRanks } from '../levels/levels.ts';
import { readApart, stampApart, type ReadFile } from '../stamp-thread.ts';
import { doesNotGo } from '../runs/stamped-item.ts';
import { memberOffered, type Publishing } from './published.ts';

/** A level as somebody who may choose it sees it. */
function shownLevel(id: string, { levels, ranks }: Publishing) {
  const content = levels.get(id);
  if (!content) return [];
  const { name, marking } = stampedLevel(id, content);
  return [
    {
      id,
      name: content.name,
      shown: name,
      /** The more, the stronger. */
      strength: ranks.get(id) ?? 0,
      means: content.means,
      colour: content.colour,
      goesOn: content.goesOn,
      lowered: content.lowered,
      marking,
    },
  ];
}

/** What somebody is offered, in the order in which they see it. Throws a RefusedError (404) for nobody. */
export async function levelsFor(ctx: Context, address: string) {
  const { member, offered, of } = await memberOffered(ctx, address);
  return {
    person: { address: member.address, name: member.name },
    levels: offered.levels.flatMap((id) => shownLevel(id, of)),
    start: offered.start ?? null,
  };
}

export interface Choice {
  readonly person: string;
  readonly level: string;
  readonly reason: string;
  /** Of the document or message, as {file} stands for it. */
  readonly name: string;
}

/**
 * Stamps what somebody has before them with the level they chose, and gives it back. Throws a RefusedError where they
 * are not offered it, it may not be lowered so, or does not go on such a thing, or that carries no marking.
 */
export async function chooseLevel(
  ctx: Context,
  program: Program,
  { person, level, reason, name }: Choice,
  bytes: Uint8Array,
): Promise<{ readonly bytes: Uint8Array; readonly level: CarriedLevel; readonly before: string | null }> {
  const [{ member, offered, of }, ranks] = await Promise.all([
    memberOffered(ctx, person),
    levelRanks(ctx.store),
  ]);
  const content = of.levels.get(level);
  if (!content || !offered.levels.includes(level))
    throw new RefusedError(
      content ? `${member.name} is not offered ${content.name}.` : 'There is no such level in force.',
      [
        {
          field: 'level',
          message: `One of ${offered.levels.map((l) => of.names.level(l)).join(', ') || 'none that is offered'}.`,
        },
      ],
    );
  const { carried: before, carrier } = await readFor(program, bytes);
  const had = before && of.levels.get(before.id);
  const refused = lowering(
    before && { id: before.id, lowered: had?.lowered ?? 'with a reason' },
    level,
    ranks,
    { reason, mayAlways: false },
  );
  if (refused === 'never')
    throw new RefusedError(
      `Only an officer lowers ${had?.name ?? 'it'}.`,
      [{ field: 'level', message: 'Keep the level it has, or ask your privacy office.' }],
      403,
    );
  if (refused === 'needs a reason')
    throw new RefusedError(`Lowering it from ${of.names.level(before?.id ?? '')} needs a reason.`, [
      { field: 'reason', message: 'Say why it may be lowered.' },
    ]);
  const why = doesNotGo(carrier, content);
  if (why !== undefined) throw new RefusedError(why, [{ field: 'level', message: 'Choose one that does.' }]);
  const stamped = stampedLevel(level, content);
  const now = ctx.now();
  const values = {
    level: stamped.name,
    owner: member.name,
    date: dayText(now.toISOString().slice(0, 10)),
    file: name,
  };
  const carriedLevel = { id: level, name: stamped.name };
  const made = await READING.use(`program ${program.id}`, () =>
    refusing(() => stampApart({ bytes, marking: filled(stamped.marking, values), level: carriedLevel })),
  );
  await ctx.store.transaction((tx) =>
    record(tx, now, {
      actor: 'system',
      action: 'level.choose',
      object: 'level',
      objectId: level,
      detail: { program: program.id, person: member.id, before: before?.id ?? null, reason: reason.trim() },
    }),
  );
  return { bytes: made, level: carriedLevel, before: before?.id ?? null };
}

/** The level that something says it has. Throws a RefusedError for what carries none. */
export async function carried(program: Program, bytes: Uint8Array): Promise<CarriedLevel | undefined> {
  return (await readFor(program, bytes)).carried;
}

function readFor(program: Program, bytes: Uint8Array): Promise<ReadFile> {
  return READING.use(`program ${program.id}`, () => refusing(() => readApart(bytes)));
}

async function refusing<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof UnstampableError)) throw error;
    throw new RefusedError('It is as it was: it cannot be stamped.', [
      { field: 'body', message: error.message },
    ]);
  }
}
