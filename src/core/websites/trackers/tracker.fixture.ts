import type { ObservedTracker, Sighting } from './tracker.ts';

/** A sighting and a tracker for tests. */
export function sighting(over: Partial<Sighting> = {}): Sighting {
  return {
    visitor: 'before',
    pages: 3,
    firstPage: 'https://a.example/',
    onPages: ['https://a.example/'],
    party: 'first',
    lifetime: null,
    setBy: 'script',
    valueLength: 10,
    valueBits: 40,
    cause: [],
    resource: '',
    moment: 'load',
    refused: '',
    cookie: null,
    blockable: false,
    alias: '',
    sends: [],
    ...over,
  };
}

export function tracker(
  over: Partial<ObservedTracker> = {},
  ...sightings: readonly Partial<Sighting>[]
): ObservedTracker {
  return {
    kind: 'cookie',
    name: 'x',
    host: 'a.example',
    sightings: sightings.length ? sightings.map(sighting) : [sighting()],
    ...over,
  };
}
