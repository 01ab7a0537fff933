/** Languages that letters exist in (BCP 47), by their own names. */
export const LETTER_LANGUAGES = { en: 'English', da: 'Dansk' } as const;
export type LetterLanguage = keyof typeof LETTER_LANGUAGES;

/** A letter in the languages it exists in; `{name}` stands for a value. English is always there. */
export interface LetterTemplate {
  readonly id: string;
  readonly texts: Readonly<Record<string, LetterText>> & { readonly en: LetterText };
}

export interface LetterText {
  readonly subject: string;
  /** Paragraphs; one that is a whole address on a line of its own becomes a link. */
  readonly body: readonly string[];
}

export interface Letter {
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  readonly language: string;
}

const MOST_SUBJECT = 200;

/**
 * A letter with its values put in. A language that the template lacks falls back to its base, `pt-BR` to `pt`, then to
 * English. Values are never read as markup, and no value can start a header of its own. Throws an Error for a slot
 * without a value.
 */
export function writeLetter(
  { id, texts }: LetterTemplate,
  language: string,
  values: Readonly<Record<string, string | number>>,
): Letter {
  const chosen = [language, language.split('-')[0] as string, 'en'].find((l) =>
    Object.hasOwn(texts, l),
  ) as string;
  const { subject, body } = texts[chosen] as LetterText;
  const fill = (text: string) =>
    text.replace(/\{([a-z][A-Za-z]*)\}/g, (_, name: string) => {
      if (!Object.hasOwn(values, name)) throw new Error(`The letter ${id} lacks a value for ${name}.`);
      return String(values[name]);
    });
  const paragraphs = body.map(fill);
  return {
    subject: oneLine(fill(subject)).slice(0, MOST_SUBJECT),
    text: `${paragraphs.join('\n\n')}\n`,
    html: `<!doctype html><html lang="${escapeHtml(chosen)}"><body>${paragraphs.map(paragraphHtml).join('')}</body></html>`,
    language: chosen,
  };
}

function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ').trim();
}

function paragraphHtml(text: string): string {
  const safe = escapeHtml(text).replaceAll('\n', '<br>');
  return /^https?:\/\/\S+$/.test(text) ? `<p><a href="${safe}">${safe}</a></p>` : `<p>${safe}</p>`;
}

function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
