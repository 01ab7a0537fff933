/** The page's own language if the notice speaks it, else the visitor's first that it does, else the notice's first. */
export function chooseLanguage(spoken: readonly string[], page: string, visitor: readonly string[]): string {
  for (const wanted of [page, ...visitor]) {
    const base = wanted.toLowerCase().split('-')[0] ?? '';
    if (spoken.includes(base)) return base;
  }
  return spoken[0] ?? 'en';
}
