/** The pattern of LIKE for whatever holds `text`. */
export function likeText(text: string): string {
  return `%${escaped(text)}%`;
}

/** The pattern of LIKE for paths below one. */
export function likeBelow(path: string): string {
  return `${escaped(path)}/%`;
}

const escaped = (text: string) => text.replace(/[\\%_]/g, '\\$&');
