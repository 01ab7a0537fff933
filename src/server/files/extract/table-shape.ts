import { hasValueHeading, isLabel, looksLikeHeadings } from './headings.ts';

/** What a cell of a table is called, and which record it is of; a cell that names others has no heading. */
export interface CellOf {
  readonly heading: string | undefined;
  /** The row or column that its record is. */
  readonly record: number;
}

export type CellsOf = (row: number, column: number) => CellOf;

type Row = readonly string[];

/** Rows above the headings that are looked past: a title, and when it was printed. */
const MOST_ABOVE = 10;

/** What has more rows is a table of records, and no form. */
const MOST_FIELDS = 200;

/** Words that fields and columns are called by, in English, Danish, Swedish and German. */
const FIELD_WORD =
  /(?<!\p{L})(?:names?|navn|fornavn|efternavn|namn|förnamn|efternamn|vorname|nachname|surname|cpr|personn(?:umme)?r|ssn|born|dob|birth|født|fødselsdato|född|födelsedatum|geburtsdatum|geb|phone|telephone|mobile|tel|tlf|telefon|telefonnummer|mobil|handy|e-?mail|e-?post|mail|address|adresse|adress|anschrift|street|gade|gata|straße|city|by|ort|stadt|postnr|zip|plz|country|land|nationality|nationalitet|staatsangehörigkeit|passport|pas|pass|reisepass|iban|account|konto|kontonr|card|kort|karte|gender|køn|kön|geschlecht|age|alder|ålder|alter|date|dato|datum|title|titel|stilling|position|job|department|afdeling|avdelning|abteilung|employer|arbejdsgiver|arbetsgivare|arbeitgeber|employee|medarbejder|medarbetare|mitarbeiter|customer|kunde|kund|id|no|nr|number|nummer|status|type|note|notes|remarks|bemærkning|anmärkning|bemerkung|diagnosis|diagnose|diagnos|allergies|allergier|allergien|password|user|signature|underskrift|unterschrift)(?!\p{L})/iu;

const isFilled = (cell: string) => cell.trim() !== '';
const filledOf = (row: Row) => row.filter(isFilled).length;
const fieldsIn = (cells: readonly string[]) =>
  cells.filter((c) => isLabel(c) && FIELD_WORD.test(c.replaceAll('_', ' '))).length;

/** How a table names its cells: by a row above them, by the column before them, or in pairs along each row. */
export function shapeOf(rows: readonly Row[]): CellsOf {
  const filled = rows.filter((r) => filledOf(r) > 0);
  const head = headAt(rows, 0);
  if (filled.length > MOST_FIELDS) return below(rows, head);
  if (isForm(filled))
    return (row, column) => ({
      heading: column % 2 === 1 ? labelAt(rows, row, column - 1) : undefined,
      record: 0,
    });
  if (isNamedBefore(filled, head < 0 ? [] : (rows[head] as Row)))
    return (row, column) => ({
      heading: column > 0 ? labelAt(rows, row, 0) : undefined,
      record: column > 0 ? 1 : 0,
    });
  return below(rows, head);
}

const labelAt = (rows: readonly Row[], row: number, column: number): string | undefined => {
  const label = rows[row]?.[column]?.trim().replace(/:$/, '');
  return label === '' ? undefined : label;
};

/** Label, value, label, value: most labels end in a colon, or there is no other way to read it. */
function isForm(filled: readonly Row[]): boolean {
  if (filled.length === 0 || !filled.every((r) => r.length % 2 === 0 || filledOf(r) === 1)) return false;
  const labels = filled.flatMap((r) => r.filter((c, i) => i % 2 === 0 && isFilled(c)));
  const colons = labels.filter((l) => /:\s*$/.test(l)).length;
  if (labels.length > 1 && colons >= labels.length / 2) return true;
  if (!filled.every((r) => r.length === 4)) return false;
  const values = filled.flatMap((r) => r.filter((c, i) => i % 2 === 1 && isFilled(c)));
  return labels.every(isLabel) && fieldsIn(labels) > labels.length / 2 && fieldsIn(values) === 0;
}

/** Whether the first column says what stands in the rest of each row. */
function isNamedBefore(filled: readonly Row[], head: Row): boolean {
  if (filled.length < 2 || filled.some((r) => r.length < 2)) return false;
  const first = filled.map((r) => r[0] ?? '').filter(isFilled);
  if (head.length === 0 && filled.every((r) => r.length === 2)) return first.every(isLabel);
  if (hasValueHeading(head)) return true;
  const [before, above] = [fieldsIn(first), fieldsIn(head)];
  return before > 1 && before > above && new Set(first).size === first.length;
}

/** The row from `from` on that names the columns, with at most single cells above it; -1 where there is none. */
function headAt(rows: readonly Row[], from: number): number {
  for (let r = from; r < rows.length - 1 && r <= from + MOST_ABOVE; r++) {
    const row = rows[r] as Row;
    if (filledOf(row) < 2 && rows.some((x) => filledOf(x) > 1)) continue;
    return looksLikeHeadings(row) && !hasValueHeading(row) ? r : -1;
  }
  return -1;
}

/** Columns under their headings; below an empty row, others may begin. */
function below(rows: readonly Row[], first: number): CellsOf {
  const headOf: number[] = [];
  let head = first;
  for (const [r, row] of rows.entries()) {
    const begins = r > 0 && filledOf(row) > 0 && filledOf(rows[r - 1] as Row) === 0 && r > first;
    if (begins) {
      const next = headAt(rows, r);
      const width = head < 0 ? 0 : filledOf(rows[head] as Row);
      // Under a title of its own, or as wide as none before it.
      if (next > r || (next === r && filledOf(rows[next] as Row) !== width)) head = next;
    }
    headOf.push(head);
  }
  return (row, column) => {
    const above = headOf[row] ?? -1;
    const heading = above >= 0 && row > above ? rows[above]?.[column]?.trim() : undefined;
    return { heading: heading === '' ? undefined : heading, record: row };
  };
}
