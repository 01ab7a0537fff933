import type { Segment } from '../../../core/text/segment.ts';

/** Fields that hold what another holds, the surest first. */
const LABELS = [
  /^(?:label|caption|question)$/i,
  /^(?:field|field_?name|attribute|property|title)$/i,
  /^(?:name|key)$/i,
  /^(?:type|system)$/i,
];
const VALUE = /^(?:values?|answers?|content|text|data|val)$/i;
const LONGEST_LABEL = 80;

/** Of the fields of one record: a label in one says what stands in another, in whatever order they come. */
export class LabelledValue {
  #label: { readonly text: string; readonly rank: number; readonly at: number } | undefined;
  readonly #values: number[] = [];

  /** `segments` are those of the whole document so far. */
  constructor(readonly segments: Segment[]) {}

  /** What is known to stand in a field of that name; `undefined` where nothing says so. */
  labelOf(name: string): string | undefined {
    return this.#label && VALUE.test(name) ? this.#label.text : undefined;
  }

  /** To be told of a field’s text once its segment is the last of all. */
  add(name: string, text: string): void {
    const at = this.segments.length - 1;
    if (VALUE.test(name)) {
      this.#values.push(at);
      this.#link();
      return;
    }
    const rank = LABELS.findIndex((l) => l.test(name));
    if (rank < 0 || text.length > LONGEST_LABEL || !/\p{L}/u.test(text)) return;
    if (this.#label && this.#label.rank <= rank) return;
    this.#label = { text, rank, at };
    this.#link();
  }

  #link(): void {
    if (!this.#label || this.#values.length === 0) return;
    for (const at of this.#values) this.#head(at, this.#label.text);
    // It is no name of somebody, either.
    this.#head(this.#label.at, 'label');
  }

  #head(at: number, heading: string): void {
    const segment = this.segments[at];
    if (segment) this.segments[at] = { ...segment, heading };
  }
}
