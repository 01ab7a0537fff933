const UNEVEN = /[\u00a0\u2007\u2009\u202f\u2010\u2011]/;

/**
 * A text with blanks that do not break, and hyphens of their own sign, as plain ones: numbers are set with them. One
 * unit for one, so that all stays where it is.
 */
export function evenText(text: string): string {
  if (!UNEVEN.test(text)) return text;
  return text.replace(/[\u00a0\u2007\u2009\u202f]/g, ' ').replace(/[\u2010\u2011]/g, '-');
}
