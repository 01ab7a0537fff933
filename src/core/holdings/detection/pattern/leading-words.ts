/**
 * The words that lead to a value, as one would name them in its context: the last one or two before it in its line,
 * without what is no word. Empty where nothing stands before it.
 */
export function leadingWords(text: string, start: number): string {
  const line = text.slice(Math.max(text.lastIndexOf('\n', start - 1) + 1, start - 60), start);
  const words = [...line.matchAll(/[\p{L}][\p{L}\p{M}'’-]*\.?/gu)].map((m) => m[0]);
  const last = words.slice(-2);
  // What ends another sentence does not lead to this value.
  const [first = '', second] = last;
  if (second === undefined) return first.replace(/\.$/, '');
  const between = line.slice(line.lastIndexOf(first) + first.length, line.lastIndexOf(second));
  const kept = /[,;:!?]/.test(between) || (first.endsWith('.') && first.length > 4) ? [second] : last;
  return kept.join(' ').replace(/\.$/, '');
}
