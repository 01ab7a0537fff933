import { z } from 'zod';
import { LanguageTag } from './notice.ts';
import { NoticeText } from './notice-text.ts';

/** The texts of a notice in one language, as they leave to be translated and come back. */
export const TextsFile = z.strictObject({
  schema: z.literal('yare-warden/notice-texts/1'),
  language: LanguageTag,
  texts: NoticeText,
});
export type TextsFile = z.infer<typeof TextsFile>;

export function writeTexts(language: string, texts: NoticeText): string {
  return `${JSON.stringify({ schema: 'yare-warden/notice-texts/1', language, texts } satisfies TextsFile, null, 2)}\n`;
}

/** Reads texts that come back; what is wrong is told with the field it is wrong in. */
export function readTexts(file: string): { readonly file: TextsFile } | { readonly why: string } {
  let value: unknown;
  try {
    value = JSON.parse(file.replace(/^\ufeff/, ''));
  } catch (error) {
    return { why: `This is no JSON: ${(error as Error).message}` };
  }
  const read = TextsFile.safeParse(value);
  if (read.success) return { file: read.data };
  const issues = read.error.issues.slice(0, 5).map((i) => `${i.path.join('.') || 'The file'}: ${i.message}`);
  return { why: issues.join('. ') };
}
