/** Columns of an estate as a table: what a line has of them is in its row. */
const LISTS: ReadonlySet<string> = new Set(['members']);
const FLAGS: ReadonlySet<string> = new Set(['guest', 'inherits', 'gate', 'deny', 'only']);
const NUMBERS: ReadonlySet<string> = new Set(['uid', 'gid']);
/** `attribute unit`: of people. */
const ATTRIBUTE = /^attribute (.+)$/;

/**
 * A row of an estate in CSV as the line that it is, by its headings: those are the names of the fields, with `attribute NAME`
 * for attributes; several members, or people and groups of a link, are parted by `|`; an empty cell says nothing. What it
 * holds is for the schema of lines to say.
 */
export function tableLine(headings: readonly string[], cells: readonly string[]): unknown {
  const line: Record<string, unknown> = {};
  const attributes: Record<string, string> = {};
  for (const [i, heading] of headings.entries()) {
    const name = heading.trim();
    const cell = (cells[i] ?? '').trim();
    if (cell === '' || name === '') continue;
    const [, attribute] = ATTRIBUTE.exec(name) ?? [];
    if (attribute !== undefined) attributes[attribute] = cell;
    else if (LISTS.has(name)) line[name] = parts(cell);
    else if (FLAGS.has(name)) line[name] = flag(cell);
    else if (NUMBERS.has(name)) line[name] = /^\d+$/.test(cell) ? Number(cell) : cell;
    else line[name] = cell;
  }
  if (Object.keys(attributes).length > 0) line['attributes'] = attributes;
  const { to } = line;
  // What several are parted by, or the only one of a link that is for somebody.
  if (line['type'] === 'link' && typeof to === 'string' && to !== 'anyone' && to !== 'everyone here')
    line['to'] = parts(to);
  return line;
}

function parts(cell: string): readonly string[] {
  return cell
    .split('|')
    .map((p) => p.trim())
    .filter(Boolean);
}

function flag(cell: string): boolean | string {
  if (/^(?:yes|true|1)$/i.test(cell)) return true;
  return /^(?:no|false|0)$/i.test(cell) ? false : cell;
}
