export function detectorLink(id: string): string {
  return `/holdings/detectors/${encodeURIComponent(id)}`;
}

export function setLink(id: number | string): string {
  return `/holdings/sets/${id}`;
}

export const NEW_DETECTOR = '/holdings/new';

export const SETS = '/holdings/sets';
