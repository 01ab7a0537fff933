import { closeSync, openSync, readSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import { evenText } from '../../../../core/holdings/detection/pattern/even-text.ts';
import { Search, type DetectOptions } from '../../../../core/holdings/detection/engine/search.ts';
import type {
  Finding,
  NearMiss,
  Stopped,
  Verdict,
} from '../../../../core/holdings/detection/detector/finding.ts';
import {
  bestLikeness,
  type LikenessTemplate,
} from '../../../../core/holdings/detection/likeness/likeness.ts';
import { score, type LearnedModel } from '../../../../core/holdings/detection/learned/learned.ts';
import {
  findRecords,
  type Roster,
  type RosterRules,
} from '../../../../core/holdings/detection/roster/roster.ts';
import { BLOCK, TextStream } from '../../../../core/holdings/detection/engine/text-stream.ts';
import { CsvCutter, delimiterOf, isTable, type Cutter } from '../../../files/extract/csv.ts';
import { decode } from '../../../files/extract/decode.ts';
import { extract, kindOf } from '../../../files/extract/extract.ts';
import { LIMITS, type Extracted, type Limits, type Problem } from '../../../files/extract/extracted.ts';
import { JsonLineCutter } from '../../../files/extract/json.ts';
import { SqlCutter } from '../../../files/extract/sql.ts';
import { ByteStream } from './byte-stream.ts';
import { unitsOf } from './folded-text.ts';

/** What a file is read with. */
export interface Examiners {
  readonly engine: Engine;
  readonly rosters: readonly {
    readonly roster: Roster;
    readonly rules: RosterRules;
    readonly key: Uint8Array;
  }[];
  readonly likeness: readonly {
    readonly id: string;
    readonly version: number;
    readonly templates: readonly LikenessTemplate[];
    readonly from: number;
  }[];
  readonly learned: readonly {
    readonly id: string;
    readonly version: number;
    readonly model: LearnedModel;
  }[];
}

export interface Examined {
  readonly kind: string;
  /** UTF-16 units of text. */
  readonly length: number;
  readonly findings: readonly Finding[];
  readonly nearMisses: readonly NearMiss[];
  readonly verdicts: readonly Verdict[];
  readonly stopped: readonly Stopped[];
  readonly problems: readonly Problem[];
}

/** Plain text beyond it is read as a stream. */
const STREAM_FROM = 24e6;

export async function examineFile(
  path: string | Buffer,
  name: string,
  examiners: Examiners,
  options: DetectOptions,
  limits: Limits = LIMITS,
): Promise<Examined> {
  const { size } = statSync(path);
  if (
    size > STREAM_FROM &&
    examiners.rosters.length + examiners.likeness.length + examiners.learned.length === 0
  ) {
    const head = readHead(path, 64_000);
    const { encoding } = decode(head.subarray(0, head.length & ~3));
    if (/^(?:UTF-8|windows-1252)$/.test(encoding)) {
      const kind = kindOf(head, name);
      const { text } = decode(head.subarray(0, head.length & ~3));
      const delimiter = kind === 'csv' || (kind === 'text' && isTable(text)) ? delimiterOf(text) : undefined;
      if (delimiter)
        return examineRecords(path, 'CSV', new CsvCutter(delimiter), examiners.engine, options, encoding);
      if (kind === 'json lines')
        return examineRecords(path, 'JSON', new JsonLineCutter(), examiners.engine, options, encoding);
      if (kind === 'sql')
        return examineRecords(path, 'SQL', new SqlCutter(), examiners.engine, options, encoding);
      if (kind === 'text' || kind === 'csv') return examineStream(path, examiners.engine, options, encoding);
    }
  }
  if (size > limits.fileBytes)
    return {
      ...NOTHING,
      problems: [
        { part: '', kind: 'too large', words: `It is larger than ${Math.round(limits.fileBytes / 1e6)} MB` },
      ],
    };
  return examineBytes(await readFile(path), name, examiners, options, limits);
}

export async function examineBytes(
  bytes: Buffer,
  name: string,
  examiners: Examiners,
  options: DetectOptions,
  limits: Limits = LIMITS,
): Promise<Examined> {
  return examineExtracted(await extract(name, bytes, limits), examiners, options);
}

const NOTHING: Examined = {
  kind: 'nothing',
  length: 0,
  findings: [],
  nearMisses: [],
  verdicts: [],
  stopped: [],
  problems: [],
};

export function examineExtracted(
  extracted: Extracted,
  examiners: Examiners,
  options: DetectOptions,
): Examined {
  const { segments, problems, kind } = extracted;
  const text = evenText(extracted.text);
  const found = examiners.engine.detect({ text, segments }, options, unitsOf(text));
  const findings: Finding[] = [...found.findings];
  const nearMisses: NearMiss[] = [...found.nearMisses];
  const verdicts: Verdict[] = [...found.verdicts];
  for (const { roster, rules, key } of examiners.rosters) {
    const met = findRecords(roster, rules, key, { text, segments }, options);
    findings.push(...met.findings);
    if (options.nearMisses) nearMisses.push(...met.nearMisses);
    if (met.findings.length > 0)
      verdicts.push({
        detector: roster.id,
        version: roster.version,
        found: true,
        findings: met.findings.length,
        distinct: new Set(met.findings.map((f) => f.hash || f.masked)).size,
        confidence: Math.max(...met.findings.map((f) => f.confidence)),
        why: '',
      });
  }
  for (const { id, version, templates, from } of examiners.likeness) {
    const best = bestLikeness(templates, text);
    if (!best || best.measure < from / 2) continue;
    const is = best.measure >= from;
    const words = `${best.how === 'copy' ? 'a copy of' : 'an excerpt of'} ${best.template}: ${Math.round(best.measure * 100)}% of it`;
    verdicts.push({
      detector: id,
      version,
      found: is,
      findings: best.parts.length,
      distinct: 1,
      confidence: best.measure,
      why: is ? words : `${words}, below ${Math.round(from * 100)}%`,
    });
    if (!is) continue;
    for (const p of best.parts)
      findings.push({
        detector: id,
        version,
        ...p,
        confidence: best.measure,
        steps: [{ words, steps: 0 }],
        masked: '',
        hash: '',
        place: {},
      });
  }
  for (const { id, version, model } of examiners.learned) {
    const s = score(model, text);
    const is = s >= model.threshold;
    verdicts.push({
      detector: id,
      version,
      found: is,
      findings: is ? 1 : 0,
      distinct: is ? 1 : 0,
      confidence: s,
      why: is ? '' : `${s.toFixed(2)} is below its threshold of ${model.threshold.toFixed(2)}`,
    });
    if (is)
      findings.push({
        detector: id,
        version,
        start: 0,
        end: text.length,
        confidence: s,
        steps: [
          { words: `scored ${s.toFixed(2)}, from ${model.threshold.toFixed(2)} on it counts`, steps: 0 },
        ],
        masked: '',
        hash: '',
        place: {},
      });
  }
  findings.sort((a, b) => a.start - b.start || a.end - b.end);
  const lines = kind === 'plain text' || kind === 'Markdown' ? new LineCounter(text) : undefined;
  const placed = lines
    ? findings.map((f) => ({ ...f, place: { ...f.place, line: lines.lineOf(f.start) } }))
    : findings;
  return {
    kind,
    length: text.length,
    findings: placed,
    nearMisses,
    verdicts,
    stopped: found.stopped,
    problems,
  };
}

/** Lines of rising offsets. */
class LineCounter {
  #at = 0;
  #line: number;

  constructor(
    readonly text: string,
    first = 1,
  ) {
    this.#line = first;
  }

  lineOf(offset: number): number {
    for (
      let n = this.text.indexOf('\n', this.#at);
      n >= 0 && n < offset;
      n = this.text.indexOf('\n', n + 1)
    ) {
      this.#line++;
      this.#at = n + 1;
    }
    return this.#line;
  }
}

function readHead(path: string | Buffer, most: number): Buffer {
  const file = openSync(path, 'r');
  try {
    const bytes = Buffer.alloc(most);
    return bytes.subarray(0, readSync(file, bytes, 0, most, 0));
  } finally {
    closeSync(file);
  }
}

/** A text of any size in memory that does not grow with it, but for its findings. */
function examineStream(
  path: string | Buffer,
  engine: Engine,
  options: DetectOptions,
  encoding: string,
): Examined {
  const findings: Finding[] = [];
  const stream = new TextStream(engine, options, (f) => findings.push(f));
  const pieces = new ByteStream(stream, encoding);
  for (const bytes of blocksOf(path)) pieces.push(bytes);
  pieces.end();
  const { length } = stream;
  const end = stream.end();
  findings.sort((a, b) => a.start - b.start || a.end - b.end);
  const lines = linesAt(
    path,
    encoding,
    findings.map((f) => f.start),
  );
  const placed = findings.map((f, i) => ({ ...f, place: { line: lines[i] as number } }));
  return { kind: 'plain text', length, findings: placed, ...end, problems: [] };
}

/** A table, or records a line each, of any size: some records at a time. */
function examineRecords(
  path: string | Buffer,
  kind: string,
  cutter: Cutter,
  engine: Engine,
  options: DetectOptions,
  encoding: string,
): Examined {
  const findings: Finding[] = [];
  const search = new Search(engine, options, (f) => findings.push(f));
  const decoder = new TextDecoder(encoding.toLowerCase());
  let base = 0;
  const read = (more: string, isLast: boolean) => {
    const piece = cutter.next(more, isLast);
    if (piece.text === '') return;
    const text = evenText(piece.text);
    search.read({
      text,
      units: unitsOf(text),
      base,
      from: 0,
      to: text.length,
      segments: piece.segments.map((s) => ({ ...s, start: s.start + base, end: s.end + base })),
    });
    // What stands in other records does not matter.
    search.rest();
    base += text.length;
  };
  for (const bytes of blocksOf(path, RECORDS_AT_ONCE)) read(decoder.decode(bytes, { stream: true }), false);
  read(decoder.decode(), true);
  const end = search.end();
  findings.sort((a, b) => a.start - b.start || a.end - b.end);
  return { kind, length: base, findings, ...end, problems: [] };
}

/** Bytes of a table that are read at once. */
const RECORDS_AT_ONCE = 1 << 20;

/** The bytes of a file, block by block, in the same buffer. */
export function* blocksOf(path: string | Buffer, size = BLOCK): Generator<Buffer> {
  const file = openSync(path, 'r');
  const bytes = Buffer.allocUnsafe(size);
  try {
    for (let n = readSync(file, bytes); n > 0; n = readSync(file, bytes)) yield bytes.subarray(0, n);
  } finally {
    closeSync(file);
  }
}

/** The lines of rising offsets into the text of a file, read once more as far as the last. */
function linesAt(path: string | Buffer, encoding: string, offsets: readonly number[]): readonly number[] {
  const lines: number[] = [];
  const decoder = new TextDecoder(encoding.toLowerCase());
  let line = 1;
  let read = 0;
  for (const bytes of blocksOf(path)) {
    if (lines.length === offsets.length) break;
    const text = decoder.decode(bytes, { stream: true });
    const counter = new LineCounter(text, line);
    while (lines.length < offsets.length && (offsets[lines.length] as number) < read + text.length)
      lines.push(counter.lineOf((offsets[lines.length] as number) - read));
    line = counter.lineOf(text.length);
    read += text.length;
  }
  return lines;
}
