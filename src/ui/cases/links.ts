export const REQUESTS = '/cases/requests';
export const TASKS = '/cases/tasks';

export function requestLink(id: number): string {
  return `${REQUESTS}/${id}`;
}

export function requestItemLink(id: number, item: string): string {
  return `${REQUESTS}/${id}?item=${item}`;
}

export const INCIDENTS = '/cases/incidents';

export function incidentLink(id: number): string {
  return `${INCIDENTS}/${id}`;
}

/** Kinds of what is looked at over time, by the last step of their addresses. */
export const DOSSIERS = {
  impact: {
    place: '/cases/impact',
    one: 'impact assessment',
    many: 'Impact assessments',
    several: 'impact assessments',
    letter: 'IA',
  },
  vendors: { place: '/cases/vendors', one: 'vendor', many: 'Vendors', several: 'vendors', letter: 'V' },
  ai: { place: '/cases/ai', one: 'AI system', many: 'AI systems', several: 'AI systems', letter: 'AI' },
} as const;
export type DossierWhat = keyof typeof DOSSIERS;

export function isDossier(what: string | undefined): what is DossierWhat {
  return what !== undefined && Object.hasOwn(DOSSIERS, what);
}

export function dossierLink(what: DossierWhat, id: string | number): string {
  return `${DOSSIERS[what].place}/${id}`;
}
