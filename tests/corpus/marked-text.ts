import { readFileSync } from 'node:fs';
import { join } from 'node:path';

export interface Mark {
  readonly detector: string;
  readonly start: number;
  readonly end: number;
}

/** A text whose personal data is marked; all else in it is none. */
export interface MarkedText {
  readonly text: string;
  readonly marks: readonly Mark[];
}

/** Takes the marks, `⟦detector|value⟧`, out of a text; `§` parts what no file should hold in one piece. */
export function readMarks(marked: string): MarkedText {
  const marks: Mark[] = [];
  let text = '';
  let at = 0;
  const source = marked.replaceAll('§', '');
  for (const m of source.matchAll(/⟦([a-z0-9-]+)\|([^⟧]*)⟧/g)) {
    const [whole, detector = '', value = ''] = m;
    text += source.slice(at, m.index);
    marks.push({ detector, start: text.length, end: text.length + value.length });
    text += value;
    at = m.index + whole.length;
  }
  return { text: text + source.slice(at), marks };
}

/** The texts of a file of this folder, parted by lines of `===`. */
export function readCorpus(name: string): readonly MarkedText[] {
  return readFileSync(join(import.meta.dirname, `${name}.txt`), 'utf8')
    .split(/^===$/m)
    .map((t) => readMarks(`${t.trim()}\n`));
}

export interface Score {
  readonly precision: number;
  readonly recall: number;
  /** What was missed or false, with what stands around it. */
  readonly faults: readonly string[];
}

/** Holds findings against marks: a finding is right where it has characters of a mark of its detector. */
export function scoreTexts(texts: readonly MarkedText[], detect: (text: string) => readonly Mark[]): Score {
  let [right, missed, wrong] = [0, 0, 0];
  const faults: string[] = [];
  for (const { text, marks } of texts) {
    const found = detect(text);
    const meets = (a: Mark, b: Mark) => a.detector === b.detector && a.start < b.end && a.end > b.start;
    const around = ({ detector, start, end }: Mark) =>
      `${detector} ${JSON.stringify(text.slice(start, end))} in ${JSON.stringify(text.slice(Math.max(0, start - 50), end + 30))}`;
    for (const m of marks)
      if (found.some((f) => meets(f, m))) right++;
      else {
        missed++;
        faults.push(`missed ${around(m)}`);
      }
    for (const f of found)
      if (!marks.some((m) => meets(f, m))) {
        wrong++;
        faults.push(`false ${around(f)}`);
      }
  }
  const share = (n: number, of: number) => (of === 0 ? 1 : n / of);
  return { precision: share(right, right + wrong), recall: share(right, right + missed), faults };
}
