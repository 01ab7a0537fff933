/** The language of a notice, by the page's own, the visitor's, or always its first; its first where it speaks neither. */
export function chooseLanguage(
  notice: { readonly languages: readonly string[]; readonly languageBy: 'page' | 'visitor' | 'first' },
  page: string,
  visitor: readonly string[],
): string {
  const { languages, languageBy } = notice;
  const wanted = { page: [page, ...visitor], visitor: [...visitor, page], first: [] }[languageBy];
  for (const tag of wanted.map((w) => w.toLowerCase())) {
    const found =
      languages.find((l) => l.toLowerCase() === tag) ??
      languages.find((l) => l.toLowerCase() === NEAR[base(tag)] || l.toLowerCase() === base(tag)) ??
      languages.find((l) => base(l) === base(tag));
    if (found !== undefined) return found;
  }
  return languages[0] ?? 'en';
}

/** Norwegian by its usual tag is Bokmål. */
const NEAR: Readonly<Record<string, string>> = { no: 'nb', nn: 'nb' };

function base(tag: string): string {
  return tag.toLowerCase().split('-')[0] ?? '';
}
