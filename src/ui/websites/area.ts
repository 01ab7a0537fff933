import type { UiArea } from '../area.ts';

export const WEBSITES: UiArea = {
  area: 'websites',
  name: 'Websites',
  action: 'websites.read',
  view: async () => (await import('./WebsitesArea.tsx')).WebsitesArea,
  commands: [{ words: 'Take in a new site', action: 'websites.edit', link: '/websites?new=site' }],
  reads: {
    websites: ['site', 'sweep', 'tracker', 'notice'],
    site: ['site', 'sweep', 'tracker', 'notice'],
    'site-soundings': ['site', 'sweep', 'tracker', 'notice', 'consent'],
    trackers: ['tracker', 'sweep', 'known tracker'],
    tracker: ['tracker', 'sweep', 'known tracker'],
    sweep: ['sweep'],
    notice: ['notice', 'approval policy'],
    consents: ['consent'],
    'consents-first': ['consent'],
    consent: ['ledger'],
    library: ['known tracker'],
    regimes: ['regime'],
  },
  finds: ['a site', 'a tracker'],
};
