import { z } from 'zod';
import type { TimeEstimate } from '../../../core/runs/estimate.ts';
import { openRunActs, type RunAct } from '../../../core/runs/run.ts';
import type { Context } from '../../context.ts';
import { viewRun, type RunView } from '../../runs/runs.ts';
import { BigId, JsonColumn } from '../../store/columns.ts';
import { readPartName } from './part-name.ts';
import { ANY_SURVEY } from './survey-run.ts';
import { findSurvey } from './surveys.ts';

/** What reading one source takes, has taken, and costs. */
export interface SurveyedSource {
  readonly id: number;
  readonly name: string;
  readonly state: RunView['parts'][number]['state'];
  /** To be read. */
  readonly items: number;
  readonly bytes: number;
  /** Known and unchanged. */
  readonly leftOut: number;
  /** Read so far. */
  readonly done: number;
  readonly unreadable: number;
  /** How much was looked at, in (0, 1]. */
  readonly seen: number;
  readonly time: TimeEstimate;
  /** In the organisation's currency; null where no price was set. */
  readonly cost: number | null;
  readonly error: string | null;
}

export interface SurveyView {
  readonly id: number;
  readonly nextRun: string | null;
  readonly run: (RunView['run'] & { readonly acts: readonly RunAct[]; readonly time: TimeEstimate }) | null;
  readonly sources: readonly SurveyedSource[];
}

const Priced = z.object({ id: z.number(), name: z.string(), price: JsonColumn(z.number()) });

/** A survey with its latest run: its estimate before, its progress while, what it came to after. */
export async function viewSurvey(ctx: Context, id: number): Promise<SurveyView> {
  const survey = await findSurvey(ctx.store, id);
  if (survey.run_id === null) return { id, nextRun: survey.next_run, run: null, sources: [] };
  const view = await viewRun(ctx.store, ANY_SURVEY, survey.run_id);
  const priced = await ctx.store.all(
    Priced,
    "SELECT id, name, JSON_EXTRACT(content, '$.pricePerGb') AS price FROM source",
  );
  const unreadable = await ctx.store.all(
    z.object({ position: z.number(), n: BigId.transform(Number) }),
    "SELECT position, COUNT(*) AS n FROM run_result WHERE run_id = ? AND JSON_VALUE(content, '$.is') = 'unreadable' GROUP BY position",
    [survey.run_id],
  );
  const sources = new Map<number, SurveyedSource>();
  for (const part of view.parts) {
    const { id: source } = readPartName(part.part);
    const { name = part.words, price = 0 } = priced.find((p) => p.id === source) ?? {};
    const before = sources.get(source);
    const bad = unreadable.find((u) => u.position === part.position)?.n ?? 0;
    const add = (key: 'items' | 'bytes' | 'leftOut' | 'done' | 'unreadable', n: number) =>
      (before?.[key] ?? 0) + n;
    const bytes = add('bytes', part.looked.bytes);
    sources.set(source, {
      id: source,
      name,
      state: worst(before?.state, part.state),
      items: add('items', part.looked.items),
      bytes,
      leftOut: add('leftOut', part.looked.leftOut?.items ?? 0),
      done: add('done', part.items),
      unreadable: add('unreadable', bad),
      seen: Math.min(before?.seen ?? 1, part.looked.seen ?? 1),
      time: before
        ? {
            seconds: before.time.seconds + part.time.seconds,
            low: before.time.low + part.time.low,
            high: before.time.high + part.time.high,
            measured: part.time.measured,
          }
        : part.time,
      cost: price > 0 ? (bytes / 1e9) * price : null,
      error:
        part.error ??
        before?.error ??
        (part.looked.items === 0 && part.words.startsWith(`${name}: `)
          ? part.words.slice(name.length + 2)
          : null),
    });
  }
  return {
    id,
    nextRun: survey.next_run,
    run: { ...view.run, acts: openRunActs(view.run.state), time: view.time },
    sources: [...sources.values()],
  };
}

type PartState = SurveyedSource['state'];
const ORDER: readonly PartState[] = ['failed', 'cancelled', 'queued', 'waiting', 'done'];

/** Of several parts, what somebody has to know first. */
function worst(a: PartState | undefined, b: PartState): PartState {
  return a === undefined || ORDER.indexOf(b) < ORDER.indexOf(a) ? b : a;
}
