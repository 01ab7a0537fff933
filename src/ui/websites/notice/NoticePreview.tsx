import { useEffect, useRef, useState } from 'react';
import { LANGUAGES, type Language } from '../../../core/websites/notice/notice-words.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import css from '../websites.module.css';

/** The notice as a visitor would see it now, drawn by the visitor's own script in a frame of the visitor service. */
export function NoticePreview({
  origin,
  siteKey,
  content,
  language,
}: {
  readonly origin: string;
  readonly siteKey: string;
  readonly content: NoticeContent;
  readonly language: Language;
}) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [ready, setReady] = useState(false);
  useEffect(() => {
    const listen = (e: MessageEvent) => {
      if (e.origin === origin && e.source === frame.current?.contentWindow && e.data === 'yare preview ready')
        setReady(true);
    };
    window.addEventListener('message', listen);
    return () => window.removeEventListener('message', listen);
  }, [origin]);
  useEffect(() => {
    if (!ready) return;
    frame.current?.contentWindow?.postMessage(
      {
        key: siteKey,
        version: 0,
        asksSince: 0,
        months: content.askAgainMonths,
        purposes: content.purposes,
        language,
        texts: content.texts,
        colours: content.colours,
        policyUrl: content.policyUrl,
        rehearsal: true,
        shown: '',
        origin: '',
      },
      origin,
    );
  }, [ready, siteKey, content, language, origin]);
  return (
    <figure className={css['preview']}>
      <figcaption>As a visitor sees it, in {LANGUAGES[language]}</figcaption>
      <iframe
        ref={frame}
        title="Preview of the notice"
        src={`${origin}/preview`}
        sandbox="allow-scripts allow-same-origin"
      />
      {!ready && (
        <p className={css['dim']}>
          The preview comes from the visitor service at {origin}. If it stays empty, see that the service
          runs.
        </p>
      )}
    </figure>
  );
}
