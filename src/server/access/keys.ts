import { createHash } from 'node:crypto';

/** What an id of a place, a person or a group is known by in addresses and in tables: 72 bits of its SHA-256. */
export function accessKey(id: string): Buffer {
  return hash(id).subarray(0, 9);
}

/** As it stands in an address: 12 signs of base64url. */
export function keyText(key: Buffer): string {
  return key.toString('base64url');
}

export function idKey(id: string): string {
  return keyText(accessKey(id));
}

/** By what makes it the line it is, and by what it says. */
export function lineKey(identity: string): Buffer {
  return hash(identity).subarray(0, 16);
}

export function lineDigest(content: string, holds: string | null): Buffer {
  return hash(`${content}\n${holds ?? ''}`).subarray(0, 8);
}

function hash(text: string): Buffer {
  return createHash('sha256').update(text).digest();
}

/** Deeper than this a place is told by the keys of the first so many above it. */
const DEEPEST = 60;

/** The keys of all above a place and its own, one after the other: what is below it begins with them. */
export function trailOf(ids: readonly string[]): Buffer {
  return Buffer.concat(ids.slice(0, DEEPEST).map(accessKey));
}

/** Behind every trail that begins with this one. */
export function behindTrail(trail: Buffer): Buffer {
  return Buffer.concat([trail, Buffer.alloc(9, 0xff)]);
}

/** What a source’s ids begin with in the estate of all. */
export function idPrefix(id: number): string {
  return `${id}/`;
}

/** The source that a place, or an own person, is of. */
export function sourceOfId(id: string): number | undefined {
  const [, number] = /^(\d+)\//.exec(id) ?? [];
  return number === undefined ? undefined : Number(number);
}

/** What its source calls a place, or an own person. */
export function ownId(id: string): string {
  return sourceOfId(id) === undefined ? id : id.slice(id.indexOf('/') + 1);
}
