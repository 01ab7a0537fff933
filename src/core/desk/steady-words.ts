const NUMBER = '(?:\\d[\\d,.]*|an?|one)';
const TIMES = new RegExp(
  [
    `\\b${NUMBER} (?:minute|hour|day|week|month)s?\\b(?: (?:left|late|over|ago))?`,
    '\\b(?:since )?(?:yesterday|today|tomorrow)\\b(?: \\d{2}:\\d{2})?',
  ].join('|'),
  'g',
);

/** A text without how much time is left or gone in it: what stays the same while only the clock goes on. */
export function steadyWords(text: string): string {
  return text.replace(TIMES, '').replace(/\s+/g, ' ').trim();
}
