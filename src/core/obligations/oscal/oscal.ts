import { sha1 } from '@noble/hashes/legacy.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';
import { z } from 'zod';

/** Parts of NIST OSCAL 1.1 that frameworks, assessments and their results are written in, in its JSON form. */

export const OSCAL_VERSION = '1.1.2';
/** Of our own properties. */
export const NS = 'https://yarewarden.example/ns/oscal';

/** What a property says: one line, with its whole text in the remarks where it has several. */
export const Prop = z.looseObject({
  name: z.string().max(200),
  ns: z.string().max(500).optional(),
  value: z.string().max(20_000),
  class: z.string().max(200).optional(),
  remarks: z.string().max(100_000).optional(),
});
export type Prop = z.infer<typeof Prop>;
export const Props = z.array(Prop).max(20_000).default([]);

export const Metadata = z.looseObject({
  title: z.string().max(2000),
  version: z.string().max(200),
  'last-modified': z.string().max(100),
  'oscal-version': z.string().max(20),
  props: Props,
  parties: z
    .array(z.looseObject({ uuid: z.string(), name: z.string().max(1000).optional() }))
    .max(1000)
    .default([]),
  'responsible-parties': z
    .array(z.looseObject({ 'role-id': z.string(), 'party-uuids': z.array(z.string()) }))
    .max(1000)
    .default([]),
});
export type Metadata = z.infer<typeof Metadata>;

export const Resource = z.looseObject({
  uuid: z.string().max(100),
  title: z.string().max(2000).optional(),
  description: z.string().max(20_000).optional(),
  props: Props,
  rlinks: z.array(z.looseObject({ href: z.string().max(2000) })).default([]),
  base64: z
    .looseObject({ value: z.string(), filename: z.string().optional(), 'media-type': z.string().optional() })
    .optional(),
});
export const BackMatter = z.looseObject({ resources: z.array(Resource).max(20_000).default([]) });

/** RFC 9562, 5.5: the same for the same name, in a space of ours. */
export function uuidOf(name: string): string {
  const hash = sha1(utf8ToBytes(`${NS}\0${name}`)).slice(0, 16);
  hash[6] = ((hash[6] ?? 0) & 0x0f) | 0x50;
  hash[8] = ((hash[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...hash].map((b) => b.toString(16).padStart(2, '0')).join('');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
}

/** Tokens of OSCAL begin with a letter or `_`; our ids may begin with a digit, and never with `_`. */
export const tokenOf = (id: string): string => (/^[a-z]/.test(id) ? id : `_${id}`);
export const idOf = (token: string): string => token.replace(/^_/, '');

/** A property of ours. */
export function prop(name: string, text: string | number | boolean): Prop {
  const value = String(text);
  const line = value.replace(/\s+/g, ' ').trim();
  return { name, ns: NS, value: line, ...(line === value ? {} : { remarks: value }) };
}

/** What properties of ours of a name say, in their order. */
export function said(props: readonly Prop[], name: string): readonly string[] {
  return props.flatMap((p) => (p.name === name && p.ns === NS ? [p.remarks ?? p.value] : []));
}
export function saidOnce(props: readonly Prop[], name: string): string | undefined {
  return said(props, name)[0];
}

/** An instant with its zone, as OSCAL wants it. */
export const instantOf = (at: Date): string => at.toISOString();
