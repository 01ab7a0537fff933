import { z } from 'zod';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import type { Queries } from '../store/pool.ts';
import { likeText } from '../store/like-text.ts';
import { HANDLING_RULE } from './handling/handling-rules.ts';
import { LEVEL } from './levels/levels.ts';
import { LOOKOUT } from './lookouts/lookouts.ts';
import { PUBLICATION } from './publishing/publications.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';
import { VIEW_RULE } from './view/view-rules.ts';

type Places = Readonly<Record<string, string>>;

const PLACES: Places = {
  [LEVEL.object]: 'levels',
  [LEVEL_RULE.object]: 'rules',
  [PUBLICATION.object]: 'published',
  [HANDLING_RULE.object]: 'handling',
};
/** What only those know of who may look into alerts, or see activity. */
const WATCHED: Places = { [LOOKOUT.object]: 'lookouts' };
const VIEWED: Places = { [VIEW_RULE.object]: 'activity' };

/** Levels, the rules that set them, to whom they are published, and handling rules, by a part of their name. */
export const findProtection = findIn(PLACES);
export const findLookouts = findIn(WATCHED);
export const findViewRules = findIn(VIEWED);

function findIn(places: Places) {
  return ({ store }: Context, text: string) => find(store, places, text);
}

async function find(store: Queries, places: Places, text: string): Promise<readonly Found[]> {
  const rows = await store.all(
    z.object({ kind: z.string(), id: z.string(), name: z.string() }),
    'SELECT kind, id, name FROM rule WHERE kind IN (?) AND name LIKE ? ORDER BY name LIMIT 8',
    [Object.keys(places), likeText(text)],
  );
  return rows.map(({ kind, id, name }) => ({
    kind,
    words: name,
    detail: kind,
    link: `/protection/${places[kind] ?? ''}/${encodeURIComponent(id)}`,
  }));
}
