import { useQuery } from '@tanstack/react-query';
import type * as shownApi from '../../../pages/api/websites/[host]/shown-trackers.ts';
import type * as vendorsApi from '../../../pages/api/websites/[host]/shown-vendors.ts';
import { tcfApplies } from '../../../core/websites/tcf/tcf-settings.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { siteLink } from '../links.ts';
import { useEffect, useRef, useState } from 'react';
import { asksFirst, regimeOf, startsOn, sweepRegions } from '../../../core/websites/notice/regime.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { phrasesIn } from '../../../core/websites/notice/shipped-texts.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import type { PreviewWish } from '../../../core/websites/notice/shown-notice.ts';
import { useRegimes } from '../regimes/use-regimes.ts';
import { Slot } from '../../parts/Slot.tsx';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
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

const MOMENTS = ['first visit', 'second layer', 'changed mind'] as const;

/** The notice as a visitor would see it now, drawn by the visitor's own script in a frame of the visitor service. */
export function NoticePreview({
  site,
  content,
  language,
}: {
  readonly site: SiteDetail;
  readonly content: NoticeContent;
  readonly language: string;
}) {
  const origin = site.visitorOrigin;
  const regimes = useRegimes().data;
  const trackers = useQuery({
    queryKey: ['trackers', site.host, 'shown', language],
    queryFn: () =>
      request<AnswerOf<typeof shownApi.GET>>(
        'GET',
        `/api${siteLink(site.host)}/shown-trackers${queryString({ language })}`,
      ),
  });
  const takesPart = content.tcf?.vendors.join();
  const vendors = useQuery({
    queryKey: ['vendors', site.host, 'shown', takesPart],
    enabled: takesPart !== undefined,
    queryFn: () =>
      request<AnswerOf<typeof vendorsApi.GET>>('GET', `/api${siteLink(site.host)}/shown-vendors`),
    placeholderData: (b) => b,
  });
  const frame = useRef<HTMLIFrameElement>(null);
  const [ready, setReady] = useState(false);
  const [screen, setScreen] = useState<Screen>('phone');
  const [moment, setMoment] = useState<PreviewWish['moment']>('first visit');
  const [theme, setTheme] = useState<PreviewWish['theme']>('light');
  const [region, setRegion] = useState(site.region === 'ZZ' ? 'DK' : site.region);
  const [place, room] = useWidth();
  useEffect(() => {
    const listen = (e: MessageEvent) => {
      if (e.origin === origin && e.source === frame.current?.contentWindow && e.data === 'yare preview ready')
        setReady(true);
    };
    window.addEventListener('message', listen);
    return () => window.removeEventListener('message', listen);
  }, [origin]);
  const regime = regimeOf(region, regimes);
  const asked = site.purposes.filter((p) => content.purposes.includes(p.code));
  const asks = asksFirst(regime, asked);
  const wish: PreviewWish = {
    ...{ moment, theme, trackers: trackers.data ?? {}, vendors: vendors.data?.list ?? undefined },
    settings: {
      ...{ key: site.siteKey, version: 0, asksSince: 0, months: content.askAgainMonths },
      ...{ purposes: content.purposes, policyUrl: content.policyUrl, languages: content.languages },
      ...{ languageBy: content.languageBy, language, region, regime: regime.regime, asks },
      starts: asked.filter((p) => startsOn(regime, p)).map((p) => p.code),
      texts: Object.fromEntries(
        Object.entries(content.texts).map(([l, t]) => [l, { ...t, phrases: phrasesIn(l) }]),
      ),
      looks: content,
      tcf: content.tcf ? { ...content.tcf, applies: tcfApplies(region, regimes) } : undefined,
      ...{ signal: [], campaign: [], tagSystems: [], domain: '', rehearsal: true, shown: '', origin: '' },
    },
  };
  const sent = JSON.stringify(wish);
  useEffect(() => {
    if (ready) frame.current?.contentWindow?.postMessage(JSON.parse(sent), origin);
  }, [ready, sent, origin]);
  const { width, height } = SCREENS[screen];
  const scale = Math.min(1, room / width);
  return (
    <figure className={css['preview']} ref={place}>
      <figcaption>
        As a visitor in{' '}
        <Slot
          label="Region of the preview"
          words={regionName(region)}
          edit={{
            kind: 'choice',
            value: region,
            options: sweepRegions(regimes).map((r) => ({ value: r, words: regionName(r) })),
            set: setRegion,
          }}
        />{' '}
        sees it, in {languageName(language)}
        {asks ? '' : `: not asked there (${regime.regime}), and comes by the control`}
      </figcaption>
      <div className={css['previewBar']}>
        <Segments
          label="Screen of the preview"
          value={screen}
          options={Object.keys(SCREENS).map((s) => ({ value: s, words: s }))}
          onChange={(s) => setScreen(s as Screen)}
        />
        <Segments
          label="Moment of the preview"
          value={moment}
          options={MOMENTS.map((m) => ({ value: m, words: m }))}
          onChange={(m) => setMoment(m as PreviewWish['moment'])}
        />
        <Segments
          label="Page behind"
          value={theme}
          options={[
            { value: 'light', words: 'light' },
            { value: 'dark', words: 'dark' },
          ]}
          onChange={(t) => setTheme(t as PreviewWish['theme'])}
        />
      </div>
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
