import { queryString } from '../desk/request.ts';

export function detectorLink(id: string): string {
  return `/holdings/detectors/${encodeURIComponent(id)}`;
}

export function setLink(id: number | string): string {
  return `/holdings/sets/${id}`;
}

export const DETECTORS = '/holdings/detectors';
export const NEW_DETECTOR = '/holdings/new';
export const SETS = '/holdings/sets';
export const SOURCES = '/holdings/sources';
export const SURVEYS = '/holdings/surveys';
export const RECORDS = '/holdings/records';

/** What is held, looked at through a lens in its line. */
export function lensLink(line: string, more: Readonly<Record<string, string | undefined>> = {}): string {
  return `/holdings${queryString({ lens: line === 'everything' ? undefined : line, ...more })}`;
}

export function itemLink(id: string, line: string): string {
  return `/holdings/items/${id}${queryString({ lens: line === 'everything' ? undefined : line })}`;
}

export function sourceLink(id: number | string): string {
  return `${SOURCES}/${id}`;
}

export function listingLink(id: number | string): string {
  return `/holdings/listings/${id}`;
}

export function systemLink(id: number | string): string {
  return `/holdings/systems/${id}`;
}

export function surveyLink(id: number | string): string {
  return `${SURVEYS}/${id}`;
}

export function activityLink(id: number | string): string {
  return `${RECORDS}/${id}`;
}
