import { z } from 'zod';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  labelledChange,
  Mark,
  scoreLabelled,
  type LabelledChange,
  type LabelledScore,
} from '../../../../core/holdings/detection/labelled/labelled.ts';
import { notFound, RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { openText, sealText } from '../../../secret.ts';
import { BigId, Count, Instant, JsonColumn, toDatetime } from '../../../store/columns.ts';
import { isDuplicate, type Queries } from '../../../store/pool.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { TookTooLong } from '../threads/detection-threads.ts';
import type { DetectSetting } from '../threads/detection-thread.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import { detectorSetting } from '../detectors/detector-setting.ts';
import type { Examined } from '../threads/examine.ts';
import { usedDetectors } from '../detectors/own-detectors.ts';

const MOST_TEXTS = 2000;
const SCORE_MS = 30_000;
const Marks = JsonColumn(z.array(Mark));

export interface ListedSet {
  readonly id: number;
  readonly name: string;
  readonly texts: number;
  readonly marks: number;
  /** What is marked in it, and how often. */
  readonly labels: readonly { readonly label: string; readonly n: number }[];
}

export async function listSets(store: Queries): Promise<readonly ListedSet[]> {
  const [sets, labels] = await Promise.all([
    store.all(
      z.object({ id: z.number(), name: z.string(), texts: Count }),
      'SELECT s.id, s.name, (SELECT COUNT(*) FROM labelled_text t WHERE t.set_id = s.id) AS texts FROM labelled_set s ORDER BY s.name LIMIT 200',
    ),
    store.all(
      z.object({ set_id: z.number(), label: z.string(), n: Count }),
      'SELECT t.set_id, m.label, SUM(m.n) AS n FROM labelled_mark m JOIN labelled_text t ON t.id = m.text_id GROUP BY t.set_id, m.label ORDER BY n DESC, m.label',
    ),
  ]);
  return sets.map((s) => {
    const mine = labels.filter((l) => l.set_id === s.id).map(({ label, n }) => ({ label, n }));
    return { ...s, marks: mine.reduce((all, l) => all + l.n, 0), labels: mine };
  });
}

/** Keeps how often what is marked in a text, in the transaction that marks it. */
async function countMarks(tx: Queries, text: string | number, marks: readonly Mark[]): Promise<void> {
  await tx.run('DELETE FROM labelled_mark WHERE text_id = ?', [text]);
  const counts = new Map<string, number>();
  for (const { label } of marks) counts.set(label, (counts.get(label) ?? 0) + 1);
  if (counts.size > 0)
    await tx.run('INSERT INTO labelled_mark (text_id, label, n) VALUES ?', [
      [...counts].map(([label, n]) => [text, label, n]),
    ]);
}

export interface LabelledText {
  readonly id: string;
  readonly name: string;
  readonly text: string;
  readonly marks: readonly Mark[];
  readonly revision: number;
  readonly changedAt: string;
}

export interface LabelledSet {
  readonly id: number;
  readonly name: string;
  readonly texts: readonly LabelledText[];
}

const TextRow = z.object({
  id: BigId,
  name: z.string(),
  body: z.string(),
  marks: Marks,
  revision: z.number(),
  changed_at: Instant,
});

export async function readSet(ctx: Context, id: number): Promise<LabelledSet> {
  const set = await ctx.store.one(
    z.object({ id: z.number(), name: z.string() }),
    'SELECT id, name FROM labelled_set WHERE id = ?',
    [id],
  );
  if (!set) throw notFound('labelled set');
  const rows = await ctx.store.all(
    TextRow,
    'SELECT id, name, body, marks, revision, changed_at FROM labelled_text WHERE set_id = ? ORDER BY id LIMIT ?',
    [id, MOST_TEXTS],
  );
  return {
    ...set,
    texts: rows.map(({ body, changed_at, ...r }) => ({
      ...r,
      text: openText(ctx.settings.SECRET_KEY, body),
      changedAt: changed_at,
    })),
  };
}

export async function addSet(ctx: Context, accountId: number, name: string): Promise<{ id: number }> {
  return ctx.store.transaction(async (tx) => {
    try {
      const { id } = await tx.run('INSERT INTO labelled_set (name, made_by, made_at) VALUES (?, ?, ?)', [
        name,
        accountId,
        toDatetime(ctx.now()),
      ]);
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'labelled-set.add',
        object: 'labelled set',
        objectId: id,
        detail: { name },
      });
      return { id };
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      throw new RefusedError(`There is a labelled set “${name}” already.`, [
        { field: 'name', message: 'Give it another name.' },
      ]);
    }
  });
}

export async function removeSet(ctx: Context, accountId: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM labelled_set WHERE id = ?', [id]);
    if (changed === 0) throw notFound('labelled set');
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'labelled-set.remove',
      object: 'labelled set',
      objectId: id,
      detail: {},
    });
  });
}

export async function addLabelledText(
  ctx: Context,
  accountId: number,
  set: number,
  input: { readonly name: string; readonly text: string; readonly marks: readonly Mark[] },
): Promise<{ id: string }> {
  checkMarks(input.text, input.marks);
  return ctx.store.transaction(async (tx) => {
    const there = await tx.one(
      z.object({ n: Count }),
      'SELECT COUNT(t.id) AS n FROM labelled_set s LEFT JOIN labelled_text t ON t.set_id = s.id WHERE s.id = ? GROUP BY s.id',
      [set],
    );
    if (!there) throw notFound('labelled set');
    if (there.n >= MOST_TEXTS)
      throw new RefusedError(`The set holds ${there.n} texts already.`, [
        { field: 'text', message: 'Begin another set.' },
      ]);
    const id = await insertLabelledText(tx, ctx, accountId, set, input);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'labelled-set.text',
      object: 'labelled set',
      objectId: set,
      detail: { text: id, marks: input.marks.length },
    });
    return { id };
  });
}

export async function insertLabelledText(
  tx: Queries,
  ctx: Context,
  accountId: number,
  set: number,
  { name, text, marks }: { readonly name: string; readonly text: string; readonly marks: readonly Mark[] },
): Promise<string> {
  const { id } = await tx.run(
    'INSERT INTO labelled_text (set_id, name, body, marks, changed_by, changed_at) VALUES (?, ?, ?, ?, ?, ?)',
    [
      set,
      name.slice(0, 260),
      sealText(ctx.settings.SECRET_KEY, text),
      JSON.stringify(marks),
      accountId,
      toDatetime(ctx.now()),
    ],
  );
  await countMarks(tx, id, marks);
  return String(id);
}

/** Changes a text’s marks. Throws a RefusedError (409) where someone changed them since `revision`. */
export async function setMarks(
  ctx: Context,
  accountId: number,
  set: number,
  id: string,
  revision: number,
  marks: readonly Mark[],
): Promise<{ revision: number }> {
  return ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({ body: z.string(), revision: z.number() }),
      'SELECT body, revision FROM labelled_text WHERE set_id = ? AND id = ? FOR UPDATE',
      [set, id],
    );
    if (!row) throw notFound('text');
    if (row.revision !== revision)
      throw new RefusedError('Someone marked this text a moment ago. Look at it again first.', [], 409);
    checkMarks(openText(ctx.settings.SECRET_KEY, row.body), marks);
    await tx.run(
      'UPDATE labelled_text SET marks = ?, revision = revision + 1, changed_by = ?, changed_at = ? WHERE id = ?',
      [JSON.stringify(marks.toSorted((a, b) => a.start - b.start)), accountId, toDatetime(ctx.now()), id],
    );
    await countMarks(tx, id, marks);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'labelled-set.mark',
      object: 'labelled set',
      objectId: set,
      detail: { text: id, marks: marks.length },
    });
    return { revision: revision + 1 };
  });
}

export async function removeLabelledText(
  ctx: Context,
  accountId: number,
  set: number,
  id: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM labelled_text WHERE set_id = ? AND id = ?', [set, id]);
    if (changed === 0) throw notFound('text');
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'labelled-set.text-out',
      object: 'labelled set',
      objectId: set,
      detail: { text: id },
    });
  });
}

function checkMarks(text: string, marks: readonly Mark[]): void {
  for (const [i, m] of marks.entries())
    if (m.end <= m.start || m.end > text.length)
      throw new RefusedError('A mark lies outside its text.', [
        { field: `marks.${i}`, message: `From 0 to ${text.length}, its end after its start.` },
      ]);
}

/** One case with the words around it, so that it can be judged at a glance. */
export interface ShownCase {
  readonly text: string;
  readonly name: string;
  readonly before: string;
  readonly value: string;
  readonly after: string;
}

export interface SetFigures {
  readonly score: Omit<LabelledScore, 'cases'>;
  readonly falseAlarms: readonly ShownCase[];
  readonly missed: readonly ShownCase[];
  /** Against each earlier content that was asked for. */
  readonly changes: readonly (Omit<LabelledScore, 'cases'> & {
    readonly [K in keyof LabelledChange]: readonly ShownCase[];
  })[];
}

const MOST_SHOWN = 100;

/** Holds a detector, and earlier contents of it, against what is marked in a set as `label`. */
export async function scoreOnSet(
  ctx: Context,
  set: number,
  label: string,
  content: OwnDetector,
  earlier: readonly OwnDetector[],
): Promise<SetFigures> {
  const { texts } = await readSet(ctx, set);
  const marked = texts.map((t) => t.marks.filter((m) => m.label === label));
  const scores: LabelledScore[] = [];
  for (const one of [content, ...earlier]) {
    const found = await spansOf(ctx, one, texts);
    scores.push(scoreLabelled(texts.map((_, i) => ({ marks: marked[i] ?? [], found: found[i] ?? [] }))));
  }
  const shown = (cases: LabelledScore['cases']) =>
    cases.slice(0, MOST_SHOWN).map(({ text: i, start, end }): ShownCase => {
      const { id, name, text } = texts[i] as LabelledText;
      return {
        text: id,
        name,
        before: text.slice(Math.max(0, start - 40), start),
        value: text.slice(start, Math.min(end, start + 120)),
        after: text.slice(end, end + 30),
      };
    });
  const counts = ({ cases: _cases, ...rest }: LabelledScore) => rest;
  const now = scores[0] as LabelledScore;
  return {
    score: counts(now),
    falseAlarms: shown(now.cases.filter((c) => c.what === 'false alarm')),
    missed: shown(now.cases.filter((c) => c.what === 'missed')),
    changes: scores.slice(1).map((before) => {
      const change = labelledChange(before, now);
      return {
        ...counts(before),
        gained: shown(change.gained),
        lost: shown(change.lost),
        newAlarms: shown(change.newAlarms),
        alarmsGone: shown(change.alarmsGone),
      };
    }),
  };
}

/** How a detector in force does on what a set marks for it. */
export interface LabelScore extends Omit<LabelledScore, 'cases'> {
  readonly label: string;
  /** False where nothing of that name is in force: what is marked so is all missed. */
  readonly used: boolean;
}

/** Everything in force read over a set at once, told for each kind of mark and each detector that found something. */
export async function overviewOfSet(ctx: Context, set: number): Promise<readonly LabelScore[]> {
  const { texts } = await readSet(ctx, set);
  const force = (await usedDetectors(ctx.store)).filter((u) => !u.rehearsed);
  const own = new Set(force.map((u) => u.detector.id));
  const shipped = builtInDetectors()
    .filter((d) => !own.has(d.id))
    .map((detector) => ({ detector, version: detector.version }));
  const examined = await examine(ctx, await detectorSetting(ctx, [...shipped, ...force]), texts, 'all');
  const labels = new Set([
    ...texts.flatMap((t) => t.marks.map((m) => m.label)),
    ...examined.flatMap((e) => e.findings.map((f) => f.detector)),
  ]);
  return [...labels]
    .map((label) => {
      const { cases: _cases, ...counts } = scoreLabelled(
        texts.map((t, i) => ({
          marks: t.marks.filter((m) => m.label === label),
          found: examined[i]?.findings.filter((f) => f.detector === label) ?? [],
        })),
      );
      return { label, used: own.has(label) || shipped.some((s) => s.detector.id === label), ...counts };
    })
    .sort((a, b) => b.right + b.missed - (a.right + a.missed) || b.falseAlarms - a.falseAlarms);
}

async function spansOf(ctx: Context, content: OwnDetector, texts: readonly LabelledText[]) {
  const setting = await detectorSetting(ctx, [{ detector: content, version: 1 }]);
  const examined = await examine(ctx, setting, texts, JSON.stringify(content));
  return examined.map((e) => e.findings.filter((f) => f.detector === content.id));
}

async function examine(
  ctx: Context,
  setting: DetectSetting,
  texts: readonly LabelledText[],
  name: string,
): Promise<readonly Examined[]> {
  try {
    return await detectorPool().run(
      {
        what: 'with',
        // What stands behind a detector may change without its words: nothing is kept from one time to the next.
        name: `${name} ${ctx.now().toISOString()}`,
        setting,
        texts: texts.map((t) => ({ text: t.text, segments: [] })),
        options: {},
      },
      SCORE_MS,
    );
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    throw new RefusedError('Holding it against the labelled set took too long and was ended.', [
      { field: 'draft', message: `Its pattern did not come to an end, at sign ${error.at} of a text.` },
    ]);
  }
}
