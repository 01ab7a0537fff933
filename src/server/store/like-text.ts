/** The pattern of LIKE for whatever holds `text`. */
export function likeText(text: string): string {
  return `%${text.replace(/[\\%_]/g, '\\$&')}%`;
}
