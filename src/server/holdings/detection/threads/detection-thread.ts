import { createHmac } from 'node:crypto';
import type { MessagePort } from 'node:worker_threads';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import type { DetectOptions } from '../../../../core/holdings/detection/engine/search.ts';
import { likenessTemplate } from '../../../../core/holdings/detection/likeness/likeness.ts';
import {
  explainScore,
  train,
  type Costs,
  type Example,
  type LearnedModel,
  type Training,
} from '../../../../core/holdings/detection/learned/learned.ts';
import type { Roster, RosterRules } from '../../../../core/holdings/detection/roster/roster.ts';
import type { TextDocument } from '../../../../core/text/segment.ts';
import { findRisk, type FoundRisk } from '../pattern/pattern-risk.ts';
import { buildRoster, type BuiltRoster, type RosterTableInput } from '../roster/roster-table.ts';
import { readSheets, type SheetText } from '../../../files/workbook-sheets.ts';
import { readTableOf, type Table } from '../../../files/table-file.ts';
import { sightOf, type TableSight } from '../roster/table-sight.ts';
import { extract } from '../../../files/extract/extract.ts';
import type { FieldError } from '../../../../core/refusal.ts';
import type { Extracted, Limits, Problem } from '../../../files/extract/extracted.ts';
import { likenessSight, type LikenessSight } from '../likeness/likeness-sight.ts';
import { surveyItem, type SurveyedItem, type SurveyInput } from '../../surveys/survey-item.ts';
import { compileComplaint } from '../pattern/pattern-compile.ts';
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
  /** Versions that are only rehearsed; their findings stay apart. */
  readonly rehearsed?: DetectSetting | undefined;
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
  /** An item of a source; nothing is read of one whose bytes are those of `known`. */
  | { readonly what: 'survey'; readonly item: SurveyInput; readonly options: TaskOptions }
  /** The text of a file alone. */
  | {
      readonly what: 'text';
      readonly bytes: Uint8Array;
      readonly name: string;
      readonly most: number;
      readonly limits: Limits;
    }
  /** Reads a text or a file and looks at it with each of some settings; the places of its parts stay here. */
  | {
      readonly what: 'try';
      readonly input: TryInput;
      readonly most: number;
      readonly limits: Limits;
      readonly settings: readonly { readonly name: string; readonly setting: DetectSetting }[];
      readonly options: TaskOptions;
    }
  /** Reads a file, and tells its text with its places and all that is found in it. */
  | {
      readonly what: 'whole';
      readonly bytes: Uint8Array;
      readonly name: string;
      readonly most: number;
      readonly limits: Limits;
      readonly setting: { readonly name: string; readonly setting: DetectSetting };
      readonly options: TaskOptions;
    }
  /** What keeps pattern detectors from being made ready. */
  | { readonly what: 'compile'; readonly detector: PatternDetector }
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
  /** The rows of a table as they stand. */
  | { readonly what: 'rows'; readonly bytes: Uint8Array; readonly file: string }
  /** All sheets of a workbook. */
  | { readonly what: 'sheets'; readonly bytes: Uint8Array }
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
  readonly survey: SurveyedItem;
  readonly text: ReadText;
  readonly try: Tried;
  readonly whole: ReadWhole;
  readonly compile: readonly FieldError[];
  readonly with: readonly Examined[];
  readonly roster: BuiltRoster;
  readonly table: TableSight;
  readonly rows: Table;
  readonly sheets: readonly SheetText[];
  readonly risk: FoundRisk | 'not found out' | undefined;
  readonly train: Training;
}

export type TryInput = { readonly text: string } | { readonly name: string; readonly bytes: Uint8Array };

export interface ReadText {
  readonly text: string;
  readonly kind: string;
  readonly cut: boolean;
  readonly problems: readonly Problem[];
}

/** A file’s text with its places, and where detectors found something in it. */
export interface ReadWhole extends ReadText {
  readonly segments: Extracted['segments'];
  readonly found: readonly { readonly detector: string; readonly start: number; readonly end: number }[];
}

export interface Tried {
  readonly read: ReadText;
  /** With each setting. */
  readonly examined: readonly Examined[];
  /** Of the first setting. */
  readonly likeness: LikenessSight | null;
  readonly telling: readonly { readonly word: string; readonly weight: number }[];
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
  let inRehearsal: Examiners | undefined;
  const rehearsed = () => (setting.rehearsed ? (inRehearsal ??= examinersOf(setting.rehearsed)) : undefined);
  /** Made ready for settings that tasks bring, the latest last. */
  const others = new Map<string, Examiners>();
  const readyWith = (name: string, of: DetectSetting): Examiners => {
    const known = others.get(name) ?? examinersOf(of);
    others.delete(name);
    if (others.size >= MOST_READY) others.delete(others.keys().next().value as string);
    others.set(name, known);
    return known;
  };
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
      case 'survey':
        return surveyItem(task.item, ready(), rehearsed(), options(task.options), task.options.limits);
      case 'text': {
        const { text, cut, kind, problems } = await readInput(task, task.most, task.limits);
        return { text, cut, kind, problems } satisfies ReadText;
      }
      case 'try': {
        const all = task.settings.map(({ name, setting: of }) => readyWith(name, of));
        begun();
        const { segments, ...read } = await readInput(task.input, task.most, task.limits);
        const document = { text: read.text, segments, problems: [], kind: '' };
        const first = task.settings[0]?.setting;
        const model = first?.learned[0]?.model;
        return {
          read,
          examined: all.map((mine) => atMost(examineExtracted(document, mine, options(task.options)))),
          likeness: first ? likenessSight(first.likeness[0], read.text) : null,
          telling: model ? explainScore(model, read.text) : [],
        } satisfies Tried;
      }
      case 'whole': {
        const mine = readyWith(task.setting.name, task.setting.setting);
        begun();
        const read = await readInput(task, task.most, task.limits);
        const { findings } = examineExtracted({ ...read, problems: [] }, mine, options(task.options));
        return {
          ...read,
          found: findings
            .filter((f) => f.end - f.start < LONGEST_VALUE)
            .map(({ detector, start, end }) => ({ detector, start, end })),
        } satisfies ReadWhole;
      }
      case 'compile':
        return compileComplaint(task.detector);
      case 'with': {
        const mine = readyWith(task.name, task.setting);
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
      case 'rows':
        return readTableOf(task.file, Buffer.from(task.bytes));
      case 'sheets':
        return readSheets(Buffer.from(task.bytes));
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
    if (!('options' in task)) begun();
    run(task).then(
      (result) => port.postMessage({ say: 'done', result } satisfies FromThread),
      (error: unknown) =>
        port.postMessage({ say: 'failed', words: (error as Error).message } satisfies FromThread),
    );
  });
}

/** What is longer is said of a passage, and is no value. */
const LONGEST_VALUE = 400;
const MOST_READY = 3;
/** More than anybody looks at one by one. */
const MOST_SHOWN = 5000;

/** What goes back to the desk, which has to show it. */
function atMost(examined: Examined): Examined {
  const over = examined.findings.length > MOST_SHOWN;
  return {
    ...examined,
    findings: examined.findings.slice(0, MOST_SHOWN),
    nearMisses: examined.nearMisses.slice(0, 200),
    problems: over
      ? [
          ...examined.problems,
          {
            part: '',
            kind: 'cut short',
            words: `Of its ${examined.findings.length} findings, the first ${MOST_SHOWN} are shown`,
          },
        ]
      : examined.problems,
  };
}

async function readInput(
  input: TryInput,
  most: number,
  limits: Limits,
): Promise<ReadText & { readonly segments: Extracted['segments'] }> {
  const extracted: Extracted =
    'text' in input
      ? { text: input.text, segments: [], problems: [], kind: 'plain text' }
      : await extract(input.name, Buffer.from(input.bytes), limits);
  const cut = extracted.text.length > most;
  return {
    ...extracted,
    text: extracted.text.slice(0, most),
    cut,
    segments: cut ? extracted.segments.filter((s) => s.end <= most) : extracted.segments,
    problems: extracted.problems.slice(0, 200),
  };
}
