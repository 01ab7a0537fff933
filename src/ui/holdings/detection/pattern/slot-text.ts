export function linesOf(text: string): string[] {
  return text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
}

export function wordsOf(text: string): string[] {
  return text
    .split(/[,\n]/)
    .map((w) => w.trim())
    .filter(Boolean);
}

export function patternFault(text: string): string {
  if (text === '') return 'The pattern is empty.';
  try {
    new RegExp(text, 'u');
    return '';
  } catch (error) {
    return `${(error as Error).message.replace(/^Invalid regular expression: /, '')}.`;
  }
}

/** A word as a pattern that matches it alone. */
export function escaped(word: string): string {
  return word.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');
}

/** The first few, quoted, and how many more. */
export function some(words: readonly string[], most = 6): string {
  const shown = words
    .slice(0, most)
    .map((w) => `“${w}”`)
    .join(', ');
  return words.length > most ? `${shown} and ${words.length - most} more` : shown;
}
