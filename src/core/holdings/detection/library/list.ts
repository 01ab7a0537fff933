/** Words and phrases, separated by commas or lines. */
export const list = (text: string): string[] =>
  text
    .trim()
    .split(/\s*[,\n]\s*/)
    .filter((w) => w !== '');
