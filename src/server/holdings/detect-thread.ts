import { createHmac } from 'node:crypto';
import type { MessagePort } from 'node:worker_threads';
import type { PatternDetector } from '../../core/holdings/detector.ts';
import { Engine } from '../../core/holdings/engine.ts';
import type { DetectOptions } from '../../core/holdings/session.ts';
import { likenessTemplate } from '../../core/holdings/likeness.ts';
import {
  train,
  type Costs,
  type Example,
  type LearnedModel,
  type Training,
} from '../../core/holdings/learned.ts';
import type { Roster, RosterRules } from '../../core/holdings/roster.ts';
import type { TextDocument } from '../../core/holdings/segment.ts';
import { findRisk, type FoundRisk } from './pattern-risk.ts';
import { buildRoster, type BuiltRoster, type RosterTableInput } from './roster-table.ts';
import { readTableOf, sightOf, type TableSight } from './table-file.ts';
import { extract } from './extract/extract.ts';
import type { Extracted, Limits } from './extract/extracted.ts';
import { examineBytes, examineExtracted, examineFile, type Examined, type Examiners } from './examine.ts';

/** What is detected with. */
export interface DetectSetting {
  readonly detectors: readonly PatternDetector[];
  readonly rosters: readonly {
    readonly roster: Roster;
    readonly rules: RosterRules;
    readonly key: Uint8Array;
  }[];
  readonly likeness: readonly {
    readonly id: string;
    readonly version: number;
    readonly from: number;
    readonly templates: readonly { readonly name: string; readonly text: string }[];
  }[];
  readonly learned: readonly {
    readonly id: string;
    readonly version: number;
    readonly model: LearnedModel;
  }[];
  /** Key of the hashes of values; empty for none. */
  readonly key: string;
}

/** What a thread begins with. */
export interface ThreadSetting extends DetectSetting {
  /** Two numbers: the detector whose pattern runs, counted from 1, and where. */
  readonly watch: SharedArrayBuffer;
}

export interface TaskOptions {
  readonly reveal?: boolean;
  readonly nearMisses?: boolean;
  readonly without?: readonly number[];
  readonly budgetMs?: number;
  readonly limits?: Limits;
}

export type Task =
  | { readonly what: 'file'; readonly path: string; readonly name: string; readonly options: TaskOptions }
  | {
      readonly what: 'bytes';
      readonly bytes: Uint8Array;
      readonly name: string;
      readonly options: TaskOptions;
    }
  | { readonly what: 'extracted'; readonly extracted: Extracted; readonly options: TaskOptions }
  | { readonly what: 'extract'; readonly bytes: Uint8Array; readonly name: string }
  /** With other detectors than the thread's own; made ready once for the same `name`. */
  | {
      readonly what: 'with';
      readonly name: string;
      readonly setting: DetectSetting;
      readonly texts: readonly TextDocument[];
      readonly options: TaskOptions;
    }
  | {
      readonly what: 'roster';
      readonly bytes: Uint8Array;
      readonly file: string;
      readonly input: RosterTableInput;
      readonly key: Uint8Array;
    }
  | { readonly what: 'table'; readonly bytes: Uint8Array; readonly file: string }
  | { readonly what: 'risk'; readonly pattern: string; readonly ignoreCase: boolean }
  | {
      readonly what: 'train';
      readonly examples: readonly Example[];
      readonly seed: number;
      readonly costs: Costs;
    };

export interface TaskResults {
  readonly file: Examined;
  readonly bytes: Examined;
  readonly extracted: Examined;
  readonly extract: Extracted;
  readonly with: readonly Examined[];
  readonly roster: BuiltRoster;
  readonly table: TableSight;
  readonly risk: FoundRisk | undefined;
  readonly train: Training;
}

export type FromThread =
  | { readonly say: 'done'; readonly result: unknown }
  | { readonly say: 'failed'; readonly words: string }
  /** Ready to read: from here on its time counts. */
  | { readonly say: 'begun' }
  | { readonly say: 'progress'; readonly share: number };

function examinersOf(setting: DetectSetting): Examiners {
  return {
    engine: new Engine(setting.detectors),
    rosters: setting.rosters,
    likeness: setting.likeness.map((l) => ({
      id: l.id,
      version: l.version,
      from: l.from,
      templates: l.templates.map((t) => likenessTemplate(t.name, t.text)),
    })),
    learned: setting.learned,
  };
}

/** Serves tasks one after the other. */
export function runThread(port: MessagePort, setting: ThreadSetting): void {
  let examiners: Examiners | undefined;
  const begun = () => port.postMessage({ say: 'begun' } satisfies FromThread);
  const ready = (): Examiners => {
    examiners ??= examinersOf(setting);
    begun();
    return examiners;
  };
  let others: { readonly name: string; readonly examiners: Examiners } | undefined;
  const watch = new Float64Array(setting.watch);
  const options = (o: TaskOptions): DetectOptions => ({
    ...(o.reveal ? { reveal: true } : {}),
    ...(o.nearMisses ? { nearMisses: true } : {}),
    ...(o.without ? { without: new Set(o.without) } : {}),
    ...(o.budgetMs ? { budget: { now: () => performance.now(), ms: o.budgetMs } } : {}),
    ...(setting.key
      ? { hash: (v: string) => createHmac('sha256', setting.key).update(v).digest('hex').slice(0, 32) }
      : {}),
    watch: (detector, at) => {
      watch[0] = detector + 1;
      watch[1] = at;
    },
  });
  const run = async (task: Task): Promise<unknown> => {
    switch (task.what) {
      case 'file':
        return examineFile(task.path, task.name, ready(), options(task.options), task.options.limits);
      case 'bytes':
        return examineBytes(
          Buffer.from(task.bytes),
          task.name,
          ready(),
          options(task.options),
          task.options.limits,
        );
      case 'extracted':
        return examineExtracted(task.extracted, ready(), options(task.options));
      case 'extract':
        return extract(task.name, Buffer.from(task.bytes));
      case 'with': {
        if (others?.name !== task.name) others = { name: task.name, examiners: examinersOf(task.setting) };
        const { examiners: mine } = others;
        begun();
        return task.texts.map((t) =>
          examineExtracted({ ...t, problems: [], kind: '' }, mine, options(task.options)),
        );
      }
      case 'roster':
        return buildRoster(Buffer.from(task.bytes), task.file, task.input, task.key, (share) =>
          port.postMessage({ say: 'progress', share } satisfies FromThread),
        );
      case 'table':
        return sightOf(await readTableOf(task.file, Buffer.from(task.bytes)));
      case 'risk':
        return findRisk(task.pattern, task.ignoreCase);
      case 'train':
        return train(task.examples, task.seed, task.costs, (share) =>
          port.postMessage({ say: 'progress', share } satisfies FromThread),
        );
    }
  };
  port.on('message', (task: Task) => {
    watch[0] = 0;
    if (task.what !== 'with' && !('options' in task)) begun();
    run(task).then(
      (result) => port.postMessage({ say: 'done', result } satisfies FromThread),
      (error: unknown) =>
        port.postMessage({ say: 'failed', words: (error as Error).message } satisfies FromThread),
    );
  });
}
