import { TextBuilder, type Extracted, type Limits } from './extracted.ts';
import { hasValueHeading, looksLikeHeadings } from './headings.ts';

const RULE = /^ {0,3}\|?[ \t]*:?-+:?[ \t]*(?:\|[ \t]*:?-+:?[ \t]*)*\|?[ \t]*\r?$/;

/** Whether the text has a table as GitHub Flavored Markdown 0.29, 4.10 writes it. */
export const hasMarkdownTable = (text: string): boolean =>
  /^[^\n]*\|[^\n]*\n {0,3}\|?[ \t]*:?-+:?[ \t]*\|[ \t|:-]*\r?$/m.test(text);

/** The text stays as it is; cells of tables know their column, or the label at the beginning of their row. */
export function extractMarkdown(text: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  const lines = text.split('\n');
  let headings: readonly string[] | undefined;
  let row = 0;
  for (const [n, line] of lines.entries()) {
    const isHead = line.includes('|') && lines[n + 1]?.includes('|') && RULE.test(lines[n + 1] as string);
    if (isHead && !headings) {
      const names = cellsOf(line).map((c) => line.slice(c.start, c.end));
      headings = looksLikeHeadings(names) ? names : [];
      row = 0;
    } else if (!line.includes('|') || line.trim() === '') headings = undefined;
    if (headings && !isHead && !RULE.test(line)) {
      const cells = cellsOf(line);
      const record = out.records++;
      const label = cells.length === 2 && hasValueHeading(headings) ? cells[0] : undefined;
      let at = 0;
      row++;
      for (const [column, { start, end }] of cells.entries()) {
        out.gap(line.slice(at, start));
        const heading = label && column === 1 ? line.slice(label.start, label.end) : headings[column];
        out.add(line.slice(start, end), { row, role: 'table' }, { heading, record });
        at = end;
      }
      out.gap(line.slice(at));
    } else out.gap(line);
    if (n < lines.length - 1) out.gap('\n');
  }
  return out.done('Markdown');
}

/** The cells of a row, without the blanks around them; a bar behind a backslash is part of a cell. */
function cellsOf(line: string): readonly { readonly start: number; readonly end: number }[] {
  const bars = [...line.matchAll(/(?<!\\)\|/g)].map((m) => m.index);
  const edges = [-1, ...bars, line.length];
  return edges.slice(1).flatMap((to, i) => {
    const from = (edges[i] as number) + 1;
    const cell = line.slice(from, to);
    // What stands before the first bar or behind the last is a cell only where something is there.
    if (cell.trim() === '' && (i === 0 || to === line.length)) return [];
    const start = from + (cell.length - cell.trimStart().length);
    return [{ start, end: Math.max(start, from + cell.trimEnd().length) }];
  });
}
