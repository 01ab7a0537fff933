import type { UiArea } from '../area.ts';

export const WEBSITES: UiArea = {
  area: 'websites',
  name: 'Websites',
  action: 'websites.read',
  commands: [{ words: 'Take in a new site', action: 'websites.edit', link: '/websites?new=site' }],
  finds: ['a site', 'a tracker'],
};
