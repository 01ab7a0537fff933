/** Whether a row of cells names its columns. */
export function looksLikeHeadings(cells: readonly string[]): boolean {
  const filled = cells.map((c) => c.trim()).filter((c) => c !== '');
  return (
    filled.length > 0 &&
    filled.length >= cells.length / 2 &&
    filled.every((c) => isLabel(c)) &&
    new Set(filled.map((c) => c.toLowerCase())).size === filled.length
  );
}

/** Whether two headings say only that the second column has the values of the first: “Field, Value”. */
export const hasValueHeading = (headings: readonly string[]): boolean =>
  headings.length === 2 &&
  /^(?:values?|answers?|details?|information|content|entry|værdi|svar|oplysning|oplysninger|indhold|värde|uppgift|innehåll|wert|angabe|angaben|antwort|inhalt)$/i.test(
    (headings[1] ?? '').trim(),
  );

/** “Reg. og kontonr.” is none. */
const isSentence = (text: string) => /\p{L}{3}\.\s+\p{Lu}/u.test(text) && text.length > 24;

/** Whether it may name a column or field. */
export function isLabel(text: string): boolean {
  const t = text.trim();
  return (
    t.length > 0 && t.length <= 60 && /\p{L}/u.test(t) && !/@|\d{4}|https?:|[!?]\s/.test(t) && !isSentence(t)
  );
}
