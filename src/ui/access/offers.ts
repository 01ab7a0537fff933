// What other areas may use of this one.
export { personLink, placeLink } from './links.ts';
