export const PLACES = '/access/places';
export const PEOPLE = '/access/people';
export const CHANGES = '/access/changes';
export const REVIEWS = '/access/reviews';
export const BROAD = '/access/broad';
export const HANDS = '/access/hands';
export const SOURCES = '/access/sources';

export function placeLink(key: string): string {
  return `${PLACES}/${key}`;
}

export function personLink(key: string): string {
  return `${PEOPLE}/${key}`;
}

export function changeLink(id: number | string): string {
  return `${CHANGES}/${id}`;
}

export function reviewLink(id: number | string): string {
  return `${REVIEWS}/${id}`;
}

export function sourceLink(id: number | string): string {
  return `${SOURCES}/${id}`;
}
