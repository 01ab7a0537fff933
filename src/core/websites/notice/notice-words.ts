/** Languages whose texts ship, by BCP 47 tag, in the order they are offered. */
export const LANGUAGES = {
  en: 'English',
  da: 'Danish',
  sv: 'Swedish',
  nb: 'Norwegian',
  fi: 'Finnish',
  nl: 'Dutch',
  de: 'German',
  fr: 'French',
  es: 'Spanish',
  it: 'Italian',
  pl: 'Polish',
  pt: 'Portuguese',
} as const;

const NAMES = new Intl.DisplayNames('en', { type: 'language', fallback: 'code' });

/** A language in words; others than those that ship come by import. */
export function languageName(tag: string): string {
  return (LANGUAGES as Readonly<Record<string, string>>)[tag] ?? NAMES.of(tag) ?? tag;
}

export const TEXT_WORDS = {
  title: 'Title',
  body: 'Text',
  accept: 'Allowing button',
  refuse: 'Refusing button',
  choose: 'Choosing button',
  save: 'Saving button',
  reopen: 'Link that opens it again',
} as const;
