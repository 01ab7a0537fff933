import { useEffect, useRef, useState } from 'react';
import { LANGUAGES, type Language } from '../../../core/websites/notice/notice-words.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import { Segments } from '../../parts/Segments.tsx';
import css from '../websites.module.css';

/** CSS pixels of a usual screen of each kind. */
const SCREENS = {
  phone: { width: 390, height: 700 },
  tablet: { width: 820, height: 900 },
  desktop: { width: 1280, height: 800 },
} as const;
type Screen = keyof typeof SCREENS;

/** How wide an element is, in CSS pixels, as it changes. */
function useWidth() {
  const place = useRef<HTMLElement>(null);
  const [width, setWidth] = useState(390);
  useEffect(() => {
    const element = place.current;
    if (!element || typeof ResizeObserver === 'undefined') return;
    const observer = new ResizeObserver(() => setWidth(Math.max(120, element.clientWidth)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [place, width] as const;
}

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
  const [screen, setScreen] = useState<Screen>('phone');
  const [place, room] = useWidth();
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
        layout: content.layout,
        starts: [],
        signal: [],
        asks: true,
        policyUrl: content.policyUrl,
        rehearsal: true,
        shown: '',
        origin: '',
      },
      origin,
    );
  }, [ready, siteKey, content, language, origin]);
  const { width, height } = SCREENS[screen];
  const scale = Math.min(1, room / width);
  return (
    <figure className={css['preview']} ref={place}>
      <figcaption>As a visitor sees it, in {LANGUAGES[language]}</figcaption>
      <Segments
        label="Screen of the preview"
        value={screen}
        options={Object.keys(SCREENS).map((s) => ({ value: s, words: s }))}
        onChange={(s) => setScreen(s as Screen)}
      />
      <div className={css['screen']} style={{ width: width * scale, height: height * scale }}>
        <iframe
          ref={frame}
          title="Preview of the notice"
          src={`${origin}/preview`}
          sandbox="allow-scripts allow-same-origin"
          style={{ width, height, transform: `scale(${scale})` }}
        />
      </div>
      {!ready && (
        <p className={css['dim']}>
          The preview comes from the visitor service at {origin}. If it stays empty, see that the service
          runs.
        </p>
      )}
    </figure>
  );
}
