import { bandOf } from '../../../core/holdings/detection/detector/confidence.ts';
import type { PatternDetector } from '../../../core/holdings/detection/detector/detector.ts';
import type { Finding, Stopped } from '../../../core/holdings/detection/detector/finding.ts';
import type { Examined } from './threads/examine.ts';
import type { Problem } from '../../files/extract/extracted.ts';
import type { Values } from './detect-args.ts';

/** What looking at one file came to. */
export interface Outcome {
  readonly examined: Examined | undefined;
  readonly problems: readonly Problem[];
  readonly stopped: readonly Stopped[];
}

/** What goes to standard output. */
export class Report {
  findings = 0;
  #files = 0;
  #units = 0;
  readonly #byDetector = new Map<string, { findings: number; files: number }>();
  readonly #problems: (Problem & { readonly file: string })[] = [];
  readonly #stopped: (Stopped & { readonly file: string })[] = [];
  readonly #of: ReadonlyMap<string, PatternDetector>;
  readonly #begun = Date.now();

  constructor(
    readonly values: Values,
    detectors: readonly PatternDetector[],
  ) {
    this.#of = new Map(detectors.map((d) => [d.id, d]));
  }

  training(
    t: import('../../../core/holdings/detection/learned/learned.ts').Training,
    examples: number,
  ): void {
    const { judgement: j, warnings, telling, model, mistakes } = t;
    if (this.values.json)
      this.#line({
        learned: {
          examples,
          threshold: model.threshold,
          precision: j.precision,
          recall: j.recall,
          f1: j.f1,
          falseAlarms: j.falseAlarms,
          misses: j.misses,
          warnings,
          telling: telling.slice(0, 20),
          mistakes: mistakes.slice(0, 50),
        },
      });
    else {
      const rate = (r: { value: number; low: number; high: number }) =>
        `${(r.value * 100).toFixed(1)}% (${(r.low * 100).toFixed(0)} to ${(r.high * 100).toFixed(0)})`;
      process.stdout.write(
        `Learned from ${examples} texts. Precision ${rate(j.precision)}, recall ${rate(j.recall)}.\n${warnings.map((w) => `◆ ${w.words}\n`).join('')}`,
      );
    }
  }

  file(file: string, { examined, problems, stopped }: Outcome): void {
    this.#files++;
    for (const p of problems) {
      this.#problems.push({ file, ...p });
      process.stderr.write(`${file}${p.part ? ` (${p.part})` : ''}: ${p.words}\n`);
    }
    for (const s of stopped) {
      this.#stopped.push({ file, ...s });
      process.stderr.write(`${file}: ${s.detector} was stopped at ${s.at}. ${s.why}\n`);
    }
    if (!examined) return;
    this.#units += examined.length;
    const seen = new Set<string>();
    for (const f of examined.findings) {
      this.findings++;
      const known = this.#byDetector.get(f.detector) ?? { findings: 0, files: 0 };
      known.findings++;
      if (!seen.has(f.detector)) known.files++;
      seen.add(f.detector);
      this.#byDetector.set(f.detector, known);
      this.#finding(file, f);
    }
    for (const n of examined.nearMisses) this.#finding(file, n, n.lacked);
    if (this.values.json && (this.values.like || this.values.learn))
      for (const v of examined.verdicts) this.#line({ verdict: { file, ...v } });
  }

  #finding(file: string, f: Finding, lacked?: string): void {
    const of = this.#of.get(f.detector);
    const shown = f.value ?? f.masked;
    if (!this.values.json) {
      const place = Object.entries(f.place)
        .map(([k, v]) => `${k} ${v}`)
        .join(', ');
      process.stdout.write(
        `${file}${place ? ` (${place})` : ''}: ${of?.name ?? f.detector}, ${Math.round(f.confidence * 100)}%${lacked ? `, not counted: ${lacked}` : ''}: ${shown}\n`,
      );
      if (this.values.explain)
        for (const s of f.steps)
          process.stdout.write(`    ${s.steps >= 0 ? '+' : '−'}${Math.abs(s.steps)}  ${s.words}\n`);
      return;
    }
    this.#line({
      ...(lacked === undefined ? {} : { near_miss: lacked }),
      file,
      place: f.place,
      detector: f.detector,
      ...(of ? { name: of.name, category: of.category, country: of.country } : {}),
      start: f.start,
      end: f.end,
      confidence: Number(f.confidence.toFixed(4)),
      band: bandOf(f.confidence),
      masked: f.masked,
      ...(f.heading === undefined ? {} : { heading: f.heading }),
      ...(this.values.reveal && f.value !== undefined ? { value: f.value } : {}),
      ...(this.values.explain ? { steps: f.steps } : {}),
    });
  }

  end(): void {
    const seconds = (Date.now() - this.#begun) / 1000;
    const detectors = Object.fromEntries([...this.#byDetector].sort((a, b) => b[1].findings - a[1].findings));
    if (this.values.json) {
      this.#line({
        summary: {
          files: this.#files,
          characters: this.#units,
          findings: this.findings,
          detectors,
          problems: this.#problems,
          stopped: this.#stopped,
          seconds,
        },
      });
      return;
    }
    process.stdout.write(
      `${this.findings} findings in ${this.#files} files, ${seconds.toFixed(1)} s.${this.#problems.length > 0 ? ` ${this.#problems.length} could not be read whole.` : ''}\n`,
    );
  }

  #line(value: unknown): void {
    process.stdout.write(`${JSON.stringify(value)}\n`);
  }
}
