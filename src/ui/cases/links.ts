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
