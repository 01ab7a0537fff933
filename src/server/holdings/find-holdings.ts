import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { lensText } from '../../core/lens/lens-text.ts';
import { KeptLens } from '../../core/holdings/lenses/kept-lens.ts';
import { SOURCE_KINDS, type SourceKind } from '../../core/holdings/sources/source.ts';
import { keepToScope } from '../accounts/scope-condition.ts';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { JsonColumn } from '../store/columns.ts';
import { listSurveys } from './surveys/surveys.ts';
import { likeText } from '../store/like-text.ts';
import { Where } from '../store/where.ts';

const MOST = 5;
const Named = z.object({ id: z.number(), name: z.string() });

/** Systems, sources, surveys and lenses by a part of their name. */
export async function findHoldings(ctx: Context, text: string, account: Account): Promise<readonly Found[]> {
  const { store } = ctx;
  const like = likeText(text);
  const where = keepToScope(new Where().and('name LIKE ?', like), account, 'source', 'id');
  const [systems, sources, surveys, lenses] = await Promise.all([
    store.all(Named, 'SELECT id, name FROM data_system WHERE name LIKE ? ORDER BY name LIMIT ?', [
      like,
      MOST,
    ]),
    store.all(
      Named.extend({ kind: z.string() }),
      `SELECT id, name, kind FROM source WHERE ${where.sql} ORDER BY name LIMIT ?`,
      [...where.params, MOST],
    ),
    listSurveys(ctx, account, { text }, undefined, MOST),
    store.all(
      z.object({ content: JsonColumn(KeptLens) }),
      'SELECT content FROM lens WHERE name LIKE ? ORDER BY name LIMIT ?',
      [like, MOST],
    ),
  ]);
  return [
    ...systems.map((s) => ({
      kind: 'system',
      words: s.name,
      detail: 'system',
      link: `/holdings/systems/${s.id}`,
    })),
    ...sources.map((s) => ({
      kind: 'source',
      words: s.name,
      detail: SOURCE_KINDS[s.kind as SourceKind],
      link: `/holdings/sources/${s.id}`,
    })),
    ...surveys.rows.map((s) => ({
      kind: 'survey',
      words: s.name,
      detail: 'survey',
      link: `/holdings/surveys/${s.id}`,
    })),
    ...lenses.map(({ content }) => ({
      kind: 'lens',
      words: content.name,
      detail: 'lens',
      link: `/holdings?lens=${encodeURIComponent(lensText(content.lens))}`,
    })),
  ];
}
