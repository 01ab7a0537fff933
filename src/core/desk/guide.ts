/** A page of the guide: the text of a file in `docs/`. */
export interface GuidePage {
  /** As it stands in its address. */
  readonly id: string;
  /** Below `docs/`. */
  readonly file: string;
  readonly name: string;
}

export interface GuideChapter {
  readonly name: string;
  readonly pages: readonly GuidePage[];
}

const page = (id: string, file: string, name: string): GuidePage => ({ id, file: `${file}.md`, name });
/** Of an area: its id is that of the area in the desk. */
const area = (id: string, name: string) => page(id, `guide/${id}`, name);

/** In the order in which one reads. */
export const GUIDE: readonly GuideChapter[] = [
  { name: 'Start', pages: [area('start', 'A start'), page('today', 'today', 'Today')] },
  {
    name: 'Areas',
    pages: [
      area('websites', 'Websites'),
      area('holdings', 'Holdings'),
      area('protection', 'Protection'),
      area('retention', 'Retention'),
      area('access', 'Access'),
      area('obligations', 'Obligations'),
      area('cases', 'Cases'),
      area('evidence', 'Evidence'),
      area('account', 'Accounts and programs'),
    ],
  },
  {
    name: 'More of them',
    pages: [
      page('boards', 'boards', 'Figures, boards and reports'),
      page('requests', 'requests', 'Requests of people'),
      page('incidents', 'incidents', 'Incidents'),
      page('dossiers', 'dossiers', 'Assessments, vendors, AI systems'),
      page('activity', 'activity', 'Data in motion'),
      page('preferences', 'preferences', 'Preferences'),
    ],
  },
  {
    name: 'Formats',
    pages: [
      page('detect', 'detect', 'What detection says'),
      page('stamp', 'stamp', 'Stamping documents'),
      page('retention-items', 'retention', 'How long an item is kept'),
      page('disposal-certificate', 'disposal-certificate', 'The certificate of a disposal'),
      page('estate', 'estate', 'Who reaches what'),
      page('frameworks', 'frameworks', 'Frameworks and assessments'),
      page('listing-format', 'listing-format', 'Lists of sources'),
      page('sweep-report', 'sweep-report', 'The report of a sweep'),
      page('visit', 'visit', 'The course of a visit'),
    ],
  },
  {
    name: 'Interfaces',
    pages: [
      page('interface', 'interface', 'For programs'),
      page('visitor-interface', 'visitor-interface', 'For pages of a site'),
      page('level-interface', 'level-interface', 'Levels for editors'),
      page('library-interface', 'library-interface', 'Libraries of documents'),
    ],
  },
  {
    name: 'Operations and security',
    pages: [
      page('signing-in', 'signing-in', 'Signing in'),
      page('backup', 'backup', 'Backup and restore'),
      page('threats', 'threats', 'What holds whom'),
      page('add-an-area', 'add-an-area', 'Adding an area'),
    ],
  },
];

export const GUIDE_PAGES: readonly GuidePage[] = GUIDE.flatMap((c) => c.pages);

/** The page of an area of the desk; that of the start for one that has none. */
export function guideLink(area: string): string {
  return `/guide/${GUIDE_PAGES.some((p) => p.id === area) ? area : 'start'}`;
}

/** What a link of a page leads to: another page of the guide; `undefined` for the web, the page itself, and other files. */
export function pageOfLink(from: GuidePage, href: string): GuidePage | undefined {
  const folders = from.file.split('/').slice(0, -1);
  for (const part of (href.split('#')[0] ?? '').split('/'))
    if (part === '..') folders.pop();
    else if (part !== '.') folders.push(part);
  return GUIDE_PAGES.find((p) => p.file === folders.join('/'));
}

/** Where a link of a page leads in the guide; nowhere (`undefined`) for a file that the guide does not show. */
export function linkInGuide(from: GuidePage, href: string): string | undefined {
  if (/^https?:\/\//.test(href) || href.startsWith('#')) return href;
  const [, hash] = href.split('#');
  const to = pageOfLink(from, href);
  return to && `/guide/${to.id}${hash === undefined ? '' : `#${hash}`}`;
}
