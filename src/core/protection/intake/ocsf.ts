import { z } from 'zod';

/** Events as the Open Cybersecurity Schema Framework writes them (1.x), of the classes that are about people and data. */
const User = z.looseObject({ email_addr: z.string().optional(), name: z.string().optional() });
const File = z.looseObject({
  name: z.string().optional(),
  path: z.string().optional(),
  size: z.number().optional(),
});
const Base = z.looseObject({
  class_uid: z.int(),
  activity_id: z.int(),
  /** Milliseconds since 1970. */
  time: z.number(),
  status_id: z.int().optional(),
  metadata: z.looseObject({ uid: z.string().optional() }).optional(),
  user: User.optional(),
  actor: z.looseObject({ user: User.optional() }).optional(),
  file: File.optional(),
  email: z
    .looseObject({
      from: z.string().optional(),
      to: z.union([z.string(), z.array(z.string())]).optional(),
      size: z.number().optional(),
    })
    .optional(),
});
type Base = z.infer<typeof Base>;

const AUTHENTICATION = 3002;
const FILES = [1001, 4010];
const EMAIL = 4009;
const FAILURE = 2;

/** An event of ours, not yet checked, and what tells it apart; or why it is none that can be told here. */
export type FromOcsf =
  { readonly event: Readonly<Record<string, unknown>>; readonly uid: string } | { readonly why: string };

/** Reads one event of OCSF. */
export function fromOcsf(value: unknown): FromOcsf {
  const parsed = Base.safeParse(value);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return { why: `${issue?.path.join('.') || 'It'}: ${issue?.message ?? 'will not do'}` };
  }
  const e = parsed.data;
  const at = new Date(e.time);
  if (Number.isNaN(at.getTime())) return { why: 'time: It is no time.' };
  const user = e.user ?? e.actor?.user;
  const person = user?.email_addr ?? user?.name ?? e.email?.from;
  if (!person) return { why: 'user: It does not say who.' };
  const what = whatOf(e);
  if (typeof what === 'string') return { why: what };
  const common = { at: at.toISOString(), person: bare(person) };
  return { event: { ...common, ...what }, uid: e.metadata?.uid ?? JSON.stringify(value) };
}

function whatOf(e: Base): Readonly<Record<string, unknown>> | string {
  if (e.class_uid === AUTHENTICATION) {
    if (e.activity_id !== 1) return 'activity_id: Of sign-ins only a logon (1) is told.';
    return { kind: 'sign-in', act: e.status_id === FAILURE ? 'fail to sign in' : 'sign in' };
  }
  if (FILES.includes(e.class_uid)) {
    const act = { 2: 'open', 14: 'open', 4: 'delete' }[e.activity_id];
    if (!act) return 'activity_id: Of files only read (2), open (14) and delete (4) are told.';
    const name = e.file?.name ?? e.file?.path?.split(/[/\\]/).at(-1) ?? '';
    const origin = e.file?.path ?? '';
    return {
      ...{ kind: 'source', act },
      item: { name: name.slice(0, 400), origin: origin.slice(0, 2000), size: sizeOf(e.file?.size) },
    };
  }
  if (e.class_uid === EMAIL) {
    if (e.activity_id !== 1) return 'activity_id: Of mail only a send (1) is told.';
    const to = typeof e.email?.to === 'string' ? [e.email.to] : (e.email?.to ?? []);
    return {
      ...{ kind: 'mail', act: 'send', channel: 'mail', towards: to.map(bare).slice(0, 200) },
      // What a mail is called may be personal.
      item: { format: 'mail', size: sizeOf(e.email?.size) },
    };
  }
  return `class_uid: ${e.class_uid} is not told here; 1001 and 4010 (files), 3002 (sign-ins) and 4009 (mail) are.`;
}

function sizeOf(size: number | undefined): number {
  return size !== undefined && Number.isSafeInteger(size) && size >= 0 ? size : 0;
}

/** `Ann <ann@x.example>` as `ann@x.example`. */
function bare(address: string): string {
  return (/<([^<>\s]+)>\s*$/.exec(address)?.[1] ?? address).trim().toLowerCase().slice(0, 254);
}
