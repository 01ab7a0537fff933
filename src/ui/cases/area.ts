import type { UiArea } from '../area.ts';

export const CASES: UiArea = {
  area: 'cases',
  name: 'Cases',
  action: 'cases.tasks.read',
  view: async () => (await import('./CasesArea.tsx')).CasesArea,
  commands: [
    { words: 'Take in a request', action: 'cases.handle', link: '/cases/requests?new=request' },
    { words: 'Requests due this week', action: 'cases.read', link: '/cases/requests?due=week' },
    { words: 'Take in an incident', action: 'cases.incidents', link: '/cases/incidents?new=incident' },
    { words: 'Incidents', action: 'cases.read', link: '/cases/incidents' },
    { words: 'My tasks', action: 'cases.tasks.read', link: '/cases/tasks' },
  ],
  reads: {
    'cases-shelf': ['request', 'incident'],
    incidents: ['incident'],
    incident: ['incident'],
    requests: ['request'],
    'request-counts': ['request'],
    request: ['request'],
    'request-item': ['request'],
    'request-tasks': ['request'],
    'request policy': ['request policy'],
  },
  finds: ['a request by its number'],
};
