/** Languages a notice can speak, by BCP 47 tag. */
export const LANGUAGES = { en: 'English', da: 'Danish' } as const;
export type Language = keyof typeof LANGUAGES;

export const TEXT_WORDS = {
  title: 'Title',
  body: 'Text',
  accept: 'Allowing button',
  refuse: 'Refusing button',
  choose: 'Choosing button',
  save: 'Saving button',
  reopen: 'Link that opens it again',
} as const;
