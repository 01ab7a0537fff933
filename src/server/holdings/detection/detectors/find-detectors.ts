import { z } from 'zod';
import { DETECTOR_KINDS, KIND_WORDS } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { Context } from '../../../context.ts';
import type { Found } from '../../../desk/found.ts';
import { StageColumn } from '../../../rules/stage-column.ts';
import { likeText } from '../../../store/like-text.ts';
import { listBuiltIn } from './trial.ts';

const MOST = 8;

/** The organisation's own before those that ship. */
export async function findDetectors(ctx: Context, text: string): Promise<readonly Found[]> {
  const like = likeText(text);
  const own = await ctx.store.all(
    z.object({ id: z.string(), name: z.string(), kind: z.enum(DETECTOR_KINDS), stage: StageColumn }),
    `SELECT r.id, r.name, d.kind, r.stage FROM rule r JOIN detector d ON d.id = r.id
     WHERE r.kind = 'detector' AND (r.name LIKE ? OR r.id LIKE ?) ORDER BY r.name LIMIT ${MOST}`,
    [like, like],
  );
  const lower = text.toLowerCase();
  const shipped = listBuiltIn().filter((d) => d.name.toLowerCase().includes(lower) || d.id.includes(lower));
  return [
    ...own.map((d) => ({ ...d, detail: `${d.stage.state} · ${KIND_WORDS[d.kind]}` })),
    ...shipped.map((d) => ({ ...d, detail: `ships with Yare Warden · ${d.category}` })),
  ]
    .slice(0, MOST)
    .map(({ id, name, detail }) => ({
      kind: 'detector',
      words: name,
      detail,
      link: `/holdings/detectors/${encodeURIComponent(id)}`,
    }));
}
