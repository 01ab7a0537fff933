/** Several things in one cell of a table: parted by `;`, which stands as `\;` within one. */
export function listedCell(parts: readonly string[]): string {
  return parts.map((p) => p.replace(/[\\;]/g, '\\$&')).join('; ');
}

/** What a cell lists: parted by `;` or by lines. */
export function cellParts(cell: string): string[] {
  const all = [''];
  for (let i = 0; i < cell.length; i++) {
    const c = cell[i] as string;
    if (c === '\\' && i + 1 < cell.length) all[all.length - 1] += cell[++i] as string;
    else if (c === ';' || c === '\n') all.push('');
    else all[all.length - 1] += c;
  }
  return all.map((p) => p.trim()).filter(Boolean);
}
