/** What an entry's detail says, in a line. */
export function detailWords(detail: unknown): string {
  if (typeof detail !== 'object' || detail === null) return String(detail ?? '');
  const { words, ...rest } = detail as { words?: unknown };
  if (Array.isArray(words)) return words.map(String).join('; ');
  return Object.entries(rest)
    .filter(([, v]) => v !== '' && v !== null)
    .map(([k, v]) => `${k} ${typeof v === 'object' ? JSON.stringify(v) : String(v)}`)
    .join(', ');
}
