/**
 * Whether a place matches a pattern of places: `*` stands for any part of a step, `?` for one sign, `**` for any number of
 * steps; upper and lower case are the same. A pattern without `/` names a step at any depth. A place below one that
 * matches matches too.
 */
export function matchesPlace(pattern: string, place: string): boolean {
  const wanted = pattern
    .toLowerCase()
    .split('/')
    .filter((s) => s !== '');
  if (wanted.length === 0) return false;
  const steps = place
    .toLowerCase()
    .split('/')
    .filter((s) => s !== '');
  const all = pattern.includes('/') ? wanted : ['**', ...wanted];
  return all.every((s) => s === '**') || reaches(all, steps);
}

/** Whether the pattern matches the steps, or the beginning of them. */
function reaches(pattern: readonly string[], steps: readonly string[]): boolean {
  // By row: whether the first `p` parts of the pattern match the first `s` steps.
  let row = steps.map(() => false);
  row = [true, ...row];
  for (const part of pattern) {
    const next = Array.from({ length: steps.length + 1 }, () => false);
    for (let s = 0; s <= steps.length; s++)
      next[s] =
        part === '**'
          ? (row[s] as boolean) || (s > 0 && (next[s - 1] as boolean))
          : s > 0 && (row[s - 1] as boolean) && matchesStep(part, steps[s - 1] as string);
    row = next;
  }
  return row.some(Boolean);
}

function matchesStep(part: string, step: string): boolean {
  let [p, s, star, mark] = [0, 0, -1, 0];
  while (s < step.length)
    if (p < part.length && part[p] === '*') [star, mark] = [p++, s];
    else if (p < part.length && (part[p] === '?' || part[p] === step[s])) [p, s] = [p + 1, s + 1];
    else if (star >= 0) [p, s] = [star + 1, ++mark];
    else return false;
  while (part[p] === '*') p++;
  return p === part.length;
}
