import type { VendorList } from '../tcf/vendor-list.ts';
import type { TcfSettings } from '../tcf/tcf-settings.ts';
import type { TagSystem } from '../gate/tag-system.ts';
import type { NoticeContent } from './notice.ts';
import type { NoticeText } from './notice-text.ts';
import type { NoticePhrases } from './shipped-texts.ts';

/** What a visitor's browser is told of the notice, by the law of where it is. */
export interface NoticeSettings {
  readonly key: string;
  readonly version: number;
  /** The oldest version whose choices still hold. */
  readonly asksSince: number;
  readonly months: number;
  readonly purposes: readonly string[];
  /** Purposes that run before the visitor has said anything, by the law of where they are. */
  readonly starts: readonly string[];
  /** Those of them that Global Privacy Control refuses there. */
  readonly signal: readonly string[];
  /** Whether the notice opens by itself. */
  readonly asks: boolean;
  /** ISO 3166 code of where the visitor is. */
  readonly region: string;
  /** What the law asks for there. */
  readonly regime: string;
  /** That the notice speaks. */
  readonly languages: readonly string[];
  readonly languageBy: NoticeContent['languageBy'];
  readonly language: string;
  /** Of the first language at least; others are asked for when they are needed. */
  readonly texts: Readonly<Record<string, ShownText>>;
  readonly looks: Pick<NoticeContent, 'layout' | 'colours' | 'face' | 'size' | 'radius' | 'again' | 'css'>;
  /** Parameters of a campaign, carried along the visit. */
  readonly campaign: readonly string[];
  readonly tagSystems: readonly TagSystem[];
  /** The domain whose hosts share an answer; empty for this host alone. */
  readonly domain: string;
  readonly policyUrl: string;
  /** How it takes part in the framework, and whether that applies where the visitor is. */
  readonly tcf?: (TcfSettings & { readonly applies: boolean }) | undefined;
  /** The version that a share of visitors sees instead, in percent; it asks for the same. */
  readonly trial?:
    | (Pick<
        NoticeSettings,
        'version' | 'shown' | 'languages' | 'languageBy' | 'texts' | 'looks' | 'policyUrl'
      > & {
        readonly share: number;
      })
    | undefined;
  readonly rehearsal: boolean;
  /** Goes back with a choice: proof that this version was shown; empty in a rehearsal. */
  readonly shown: string;
  /** Of the visitor service; empty in a preview. */
  readonly origin: string;
}

export type ShownText = NoticeText & { readonly phrases: NoticePhrases };

/** What uses a purpose, by its code. */
export type TrackersShown = Readonly<
  Record<string, readonly { readonly name: string; readonly host: string; readonly text: string }[]>
>;

/** What the desk asks the page of its preview to show. */
export interface PreviewWish {
  readonly settings: NoticeSettings;
  /** Of the visit: the first, with the second layer open, or of somebody who comes back. */
  readonly moment: 'first visit' | 'second layer' | 'changed mind';
  /** Of the page behind. */
  readonly theme: 'light' | 'dark';
  readonly trackers: TrackersShown;
  /** Of those that the notice asks about; absent where it takes no part in the framework. */
  readonly vendors?: VendorList | undefined;
}
