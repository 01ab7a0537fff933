import { visit, type JSONPath } from 'jsonc-parser';
import type { Cutter, Piece } from './csv.ts';
import { LIMITS, TextBuilder, type Extracted, type Limits } from './extracted.ts';
import { fieldName } from './field-name.ts';
import { LabelledValue } from './labelled-value.ts';

/** Units up to which each value is told its path; of more, they would take more room than the text. */
const MOST_PATHED = 32e6;

/**
 * The text stays as it is, but for escapes in strings, which are read; every value knows its field, and where that
 * stands. Of `{"label": "CPR", "value": "…"}` the value’s field is what the label says.
 */
export function extractJson(text: string, limits: Limits, byLine: boolean): Extracted {
  const out = new TextBuilder(limits);
  const hasPaths = text.length <= MOST_PATHED;
  let at = 0;
  const read = (source: string, base: number, line: number) => {
    const objects: OpenObject[] = [];
    visit(
      source,
      {
        onObjectBegin: () => {
          const within = objects.at(-1)?.name;
          objects.push({ record: out.records++, within, name: '', pair: new LabelledValue(out.segments) });
        },
        onObjectEnd: () => {
          objects.pop();
        },
        onObjectProperty: (name) => {
          const object = objects.at(-1);
          if (object) object.name = name;
        },
        onLiteralValue: (value, offset, length, startLine, _character, path) => {
          const raw = source.slice(offset, offset + length);
          const quoted = raw.startsWith('"');
          const start = base + offset + (quoted ? 1 : 0);
          out.gap(text.slice(at, start));
          const inner = quoted ? raw.slice(1, -1) : raw;
          const object = objects.at(-1);
          const read = quoted && inner.includes('\\') ? String(value) : inner;
          const heading =
            object && (object.pair.labelOf(object.name) ?? fieldName(object.name, object.within));
          out.add(
            read,
            hasPaths ? { line: line + startLine, path: pointer(path()) } : { line: line + startLine },
            { heading, record: object?.record },
          );
          if (object && read !== '') object.pair.add(object.name, read);
          at = start + inner.length;
        },
      },
      { allowTrailingComma: true, allowEmptyContent: true },
    );
  };
  if (byLine) {
    let start = 0;
    for (const [n, line] of text.split('\n').entries()) {
      read(line, start, n + 1);
      start += line.length + 1;
    }
  } else read(text, 0, 1);
  out.gap(text.slice(at));
  return out.done('JSON');
}

interface OpenObject {
  readonly record: number;
  /** The name of the field that holds it. */
  readonly within: string | undefined;
  /** The name of the field that is being read. */
  name: string;
  readonly pair: LabelledValue;
}

/** RFC 6901. */
const pointer = (path: JSONPath): string =>
  path.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** Lines of JSON, as many whole ones as there are. */
export class JsonLineCutter implements Cutter {
  #rest = '';
  #records = 0;
  #lines = 0;

  next(more: string, isLast: boolean): Piece {
    const all = this.#rest + more;
    const end = isLast ? all.length : all.lastIndexOf('\n') + 1;
    this.#rest = all.slice(end);
    const { text, segments } = extractJson(all.slice(0, end), NO_LIMITS, true);
    const [records, lines] = [this.#records, this.#lines];
    for (const s of segments) this.#records = Math.max(this.#records, records + (s.record ?? 0) + 1);
    for (let n = all.indexOf('\n'); n >= 0 && n < end; n = all.indexOf('\n', n + 1)) this.#lines++;
    return {
      text,
      segments: segments.map((s) => ({
        ...s,
        place: { ...s.place, line: lines + (s.place.line ?? 1) },
        ...(s.record !== undefined && { record: s.record + records }),
      })),
    };
  }
}

const NO_LIMITS: Limits = { ...LIMITS, text: Infinity };
