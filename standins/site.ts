/** A tag as the web team placed it on its pages. */
export interface PlacedTag {
  readonly id: string;
  readonly words: string;
  readonly kind: 'script' | 'frame' | 'picture' | 'link';
  /** Without scheme and port; `{port}` for the port in what it is told. */
  readonly src: string;
  /** Of a link: where it leads at once while it is held. */
  readonly direct?: string;
  readonly place: 'head' | 'main' | 'end';
  /** The purpose it is marked with from the start; `null` when it runs at once. */
  readonly held: string | null;
  readonly on: (path: string) => boolean;
}

export interface SitePage {
  readonly path: string;
  readonly title: string;
  readonly text: string;
}

export interface StandinSite {
  readonly host: string;
  readonly name: string;
  readonly sessionCookie: string;
  /** Whether the notice’s script is on its pages. */
  readonly installed: boolean;
  readonly pages: readonly SitePage[];
  readonly tags: readonly PlacedTag[];
  /** The site’s own script. */
  readonly script: string;
  /** The script of its service worker, at `/offline.js`. */
  readonly worker?: string;
  /** What stands on single pages besides; `{port}` for the port. */
  readonly extras?: (page: SitePage) => string;
  readonly headers?: (page: SitePage) => Readonly<Record<string, string>>;
}
