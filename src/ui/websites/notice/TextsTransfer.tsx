import { useRef } from 'react';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import { readTexts, writeTexts } from '../../../core/websites/notice/texts-file.ts';
import { tell } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import shared from '../websites.module.css';

/** Texts leave to be translated, and come back; a language that is new is spoken from then on. */
export function TextsTransfer({
  content,
  language,
  set,
  chosen,
}: {
  readonly content: NoticeContent;
  readonly language: string;
  readonly set: (content: NoticeContent) => void;
  /** Shows a language. */
  readonly chosen: (language: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const text = content.texts[language];
  const take = async (file: File | undefined) => {
    if (!file) return;
    const read = readTexts(await file.text());
    if ('why' in read) {
      tell(`${file.name} was not taken in. ${read.why}.`, { kind: 'trouble' });
      return;
    }
    const { language: spoken, texts } = read.file;
    const languages = content.languages.includes(spoken) ? content.languages : [...content.languages, spoken];
    const before = content;
    set({ ...content, languages, texts: { ...content.texts, [spoken]: texts } });
    chosen(spoken);
    tell(`Its ${languageName(spoken)} texts are those of ${file.name} now.`, {
      undo: () => set(before),
    });
  };
  return (
    <span className={shared['acts']}>
      {text && (
        <a
          className={shared['download']}
          download={`notice-texts-${language}.json`}
          href={`data:application/json;charset=utf-8,${encodeURIComponent(writeTexts(language, text))}`}
        >
          Export {languageName(language)}
        </a>
      )}
      <Button onClick={() => input.current?.click()}>Import a language</Button>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        aria-label="File of texts to import"
        hidden
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
    </span>
  );
}
