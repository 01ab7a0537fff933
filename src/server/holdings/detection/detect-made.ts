import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { basename, join, relative } from 'node:path';
import { DetectorId } from '../../../core/holdings/detection/detector/detector.ts';
import { LIKENESS_FROM } from '../../../core/holdings/detection/likeness/likeness.ts';
import type { Example } from '../../../core/holdings/detection/learned/learned.ts';
import { RosterBuilder, ROSTER_RULES } from '../../../core/holdings/detection/roster/roster.ts';
import { DetectPool } from './threads/detection-threads.ts';
import type { ThreadSetting } from './threads/detection-thread.ts';
import { columnNamed, readTable } from '../../files/table-file.ts';
import { type Values, number } from './detect-args.ts';
import { UsageError } from '../../processes/command.ts';
import { filesOf } from './detect-files.ts';
import type { Report } from './detect-report.ts';

export async function likenessOf(values: Values): Promise<ThreadSetting['likeness'][number]> {
  const templates = [];
  for (const file of await filesOf(values.like ?? [])) {
    const { text, problems } = await extractOf(file.path);
    if (text.trim() === '')
      throw new UsageError(
        `“${file.shown}” cannot be a template: ${problems[0]?.words ?? 'it holds no text'}.`,
      );
    templates.push({ name: basename(file.shown), text });
  }
  return {
    id: 'like',
    version: 1,
    templates,
    from: number(values['like-from'], 'like-from', LIKENESS_FROM, 0.05, 1),
  };
}

async function extractOf(path: string) {
  const { extract } = await import('../../files/extract/extract.ts');
  return extract(basename(path), await readFile(path));
}

export async function rostersOf(values: Values): Promise<ThreadSetting['rosters']> {
  const key = randomBytes(16);
  const rosters = [];
  for (const [i, path] of (values.roster ?? []).entries()) {
    const table = readTable(await readFile(path));
    const keys = values.key ? values.key.map((k) => columnNamed(table, k)) : [0];
    const corroborating = (values.beside ?? []).map((b) => columnNamed(table, b));
    const id = DetectorId.catch(`roster-${i + 1}`).parse(
      basename(path)
        .replace(/\.[^.]*$/, '')
        .toLowerCase(),
    );
    const builder = new RosterBuilder(
      {
        id,
        name: basename(path),
        version: 1,
        headings: table.headings,
        columns: { keys, corroborating },
        expected: table.rows.length,
      },
      key,
    );
    for (const row of table.rows) builder.add(row);
    rosters.push({
      roster: builder.done(),
      key,
      rules: { ...ROSTER_RULES, corroboration: number(values.corroboration, 'corroboration', 0, 0, 20) },
    });
  }
  return rosters;
}

export async function learnedOf(values: Values, report: Report): Promise<ThreadSetting['learned'][number]> {
  const yes = [...(values.learn ?? [])];
  const no = [...(values.against ?? [])];
  if (no.length === 0 && yes.length === 1) {
    const [folder = ''] = yes;
    no.push(join(folder, 'counter-examples'));
    yes[0] = join(folder, 'examples');
  }
  const examples: Example[] = [];
  for (const [folders, positive] of [
    [yes, true],
    [no, false],
  ] as const)
    for (const file of await filesOf(folders)) {
      const { text } = await extractOf(file.path);
      if (text.trim() !== '') examples.push({ name: relative('.', file.path), text, positive });
    }
  const pool = new DetectPool({ detectors: [], rosters: [], likeness: [], learned: [], key: '' }, 1);
  try {
    const costs = {
      falseAlarm: number(values['cost-alarm'], 'cost-alarm', 1, 0.001, 1e6),
      miss: number(values['cost-miss'], 'cost-miss', 1, 0.001, 1e6),
    };
    const training = await pool.run(
      { what: 'train', examples, seed: number(values.seed, 'seed', 1, 0, 2 ** 31), costs },
      600_000,
    );
    report.training(training, examples.length);
    return { id: 'learned', version: 1, model: training.model };
  } finally {
    await pool.close();
  }
}
