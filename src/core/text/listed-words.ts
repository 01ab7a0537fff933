/** `a, b`, and of more than four `a, b, c and 3 more`; what is the same stands once. */
export function listedWords(words: readonly string[]): string {
  const all = [...new Set(words)];
  return all.length > 4 ? `${all.slice(0, 3).join(', ')} and ${all.length - 3} more` : all.join(', ');
}
