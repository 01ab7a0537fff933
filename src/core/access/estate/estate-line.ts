import { z } from 'zod';
import { STRENGTHS } from '../reach/strength.ts';

const Id = z.string().min(1).max(400);
const Name = z.string().max(1000);
const Day = z.iso.date();

/** Everybody with an account; and everybody but guests. */
export const EVERYONE = 'everyone';
export const EVERYONE_HERE = 'everyone here';
/** Of links: whoever has it, with an account or without. */
export const ANYONE = 'anyone';
const RESERVED: readonly string[] = [EVERYONE, EVERYONE_HERE, ANYONE];

const OwnId = Id.refine((id) => !RESERVED.includes(id), { error: 'This word means all people here.' });

/** An entry as `getfacl` writes it: `user:1002:rw-`, `mask::rwx`. */
export const AclEntry = z
  .string()
  .regex(
    /^(?:user|group|mask|other):\d*:[r-][w-][x-]$/,
    'An entry such as user:1002:rw-, with numbers for names.',
  );

export const PersonLine = z.strictObject({
  type: z.literal('person'),
  id: OwnId,
  name: Name.optional(),
  mail: z.string().max(254).optional(),
  /** A disabled account opens nothing. */
  state: z.enum(['open', 'disabled']).default('open'),
  /** The last day on which the account is open. */
  until: Day.nullable().default(null),
  /** The last day of their work; says nothing of their account. */
  left: Day.nullable().default(null),
  guest: z.boolean().default(false),
  /** Of POSIX; with the group that is theirs from the start. */
  uid: z.int().nonnegative().optional(),
  gid: z.int().nonnegative().optional(),
  attributes: z.record(z.string().max(100), z.string().max(1000)).default({}),
});
export type PersonLine = z.infer<typeof PersonLine>;

export const GroupLine = z.strictObject({
  type: z.literal('group'),
  id: OwnId,
  name: Name.optional(),
  /** People and groups. */
  members: z.array(Id).max(1_000_000).default([]),
  /** With those of whom all of these hold: an attribute is one of some values. */
  where: z
    .array(z.strictObject({ attribute: z.string().max(100), is: z.array(z.string().max(1000)).min(1) }))
    .default([]),
  gid: z.int().nonnegative().optional(),
});
export type GroupLine = z.infer<typeof GroupLine>;

export const PlaceLine = z.strictObject({
  type: z.literal('place'),
  id: Id,
  /** The source that it lies in. */
  source: Id,
  parent: Id.nullable().default(null),
  name: Name.optional(),
  /** Whether what is granted above holds here, too. */
  inherits: z.boolean().default(true),
  /** Whether nothing below is reached by who does not see this. */
  gate: z.boolean().default(false),
  /** Who can do everything here, and wherever that is inherited. */
  owner: Id.nullable().default(null),
  /** Who may do what, where a file system says it. */
  posix: z
    .strictObject({
      is: z.enum(['folder', 'file']),
      uid: z.int().nonnegative(),
      gid: z.int().nonnegative(),
      /** Either the nine bits in octal, or all entries. */
      mode: z
        .string()
        .regex(/^[0-7]{3,4}$/)
        .optional(),
      acl: z.array(AclEntry).max(1000).optional(),
    })
    .refine((p) => (p.mode === undefined) !== (p.acl === undefined), 'Either a mode or a list of entries.')
    .optional(),
  /** Why its source does not tell who reaches it. */
  unknown: z.string().max(400).optional(),
});
export type PlaceLine = z.infer<typeof PlaceLine>;

const Given = {
  place: Id,
  strength: z.enum(STRENGTHS),
  /** The last day on which it counts. */
  until: Day.nullable().default(null),
  by: Id.nullable().default(null),
  at: z.string().max(40).nullable().default(null),
};

export const GrantLine = z.strictObject({
  type: z.literal('grant'),
  ...Given,
  /** A person, a group, `everyone` or `everyone here`. */
  to: Id,
  /** It takes this strength, and all above it, away. */
  deny: z.boolean().default(false),
  /** Given as it is: to see it besides, but none of what lies between. */
  only: z.boolean().default(false),
});
export type GrantLine = z.infer<typeof GrantLine>;

/** Whether two grants are the same one: who made it, and when, does not matter. */
export function sameGrant(a: GrantLine, b: GrantLine): boolean {
  return (
    a.to === b.to &&
    a.place === b.place &&
    a.strength === b.strength &&
    a.deny === b.deny &&
    a.only === b.only &&
    a.until === b.until
  );
}

export const LinkLine = z.strictObject({
  type: z.literal('link'),
  ...Given,
  id: Id,
  /** `anyone` who has it; `everyone here`; or those people and groups. */
  to: z.union([z.literal(ANYONE), z.literal(EVERYONE_HERE), z.array(Id).min(1).max(10_000)]),
});
export type LinkLine = z.infer<typeof LinkLine>;

export const EstateLine = z.discriminatedUnion('type', [
  PersonLine,
  GroupLine,
  PlaceLine,
  GrantLine,
  LinkLine,
]);
export type EstateLine = z.infer<typeof EstateLine>;
