import type { CoreArea } from '../area.ts';

export const WEBSITES = {
  area: 'websites',
  actions: {
    'websites.read': {
      words: 'seeing websites',
      roles: ['site manager', 'data steward', 'records manager', 'request handler', 'auditor'],
    },
    'websites.edit': { words: 'changing websites', roles: ['site manager'] },
    'websites.sweep': { words: 'starting a sweep', roles: ['site manager'] },
    'websites.put-in-force': { words: 'putting a notice in force', roles: ['site manager'] },
    'consent.read': {
      words: 'seeing consent records',
      roles: ['site manager', 'request handler', 'auditor'],
    },
    'consent.export': {
      words: 'exporting consent records',
      roles: ['site manager', 'request handler', 'auditor'],
    },
    'preferences.read': {
      words: 'seeing how and about what people may be written to',
      roles: ['site manager', 'request handler', 'auditor'],
    },
    'preferences.edit': {
      words: 'changing how people are asked, and taking lists of them',
      roles: ['site manager'],
    },
    'preferences.say': {
      words: 'writing down that somebody wants nothing more',
      roles: ['site manager', 'request handler'],
    },
    'preferences.export': {
      words: 'exporting people, what they chose and their links',
      roles: ['site manager'],
    },
    'preferences.connect': { words: 'connecting mailing tools', roles: ['site manager'] },
    'consent.erase': {
      words: 'erasing consent records on request',
      roles: ['site manager', 'request handler'],
    },
  },
  objects: {
    site: { words: 'site', see: 'websites.read' },
    notice: { words: 'notice', see: 'websites.read' },
    tracker: { words: 'tracker', see: 'websites.read' },
    'known tracker': { words: 'known tracker', see: 'websites.read' },
    regime: { words: 'regime', see: 'websites.read' },
    purpose: { words: 'purpose', see: 'websites.read' },
    'vendor list': { words: 'vendor list', see: 'websites.read' },
    'tag system': { words: 'tag system', see: 'websites.read' },
    sweep: { words: 'sweep', see: 'websites.read' },
    consent: { words: 'consent record', see: 'consent.read' },
    'preference page': { words: 'preference page', see: 'preferences.read' },
    preference: { words: 'preference', see: 'preferences.read' },
    person: { words: 'person', see: 'preferences.read' },
    'mailing tool': { words: 'mailing tool', see: 'preferences.read' },
  },
  scopes: { site: { words: 'websites' } },
  today: {
    leak: { words: 'leak', tone: 'wrong', place: 10, does: 'Stop them' },
    change: { words: 'change', tone: 'news', place: 20, does: 'See what' },
    unsorted: { words: 'to decide', tone: 'open', place: 40, does: 'Sort them' },
    'no notice': { words: 'to do', tone: 'open', place: 50, does: 'Write it' },
  },
} as const satisfies CoreArea;
