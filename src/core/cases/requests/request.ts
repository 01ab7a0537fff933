import { z } from 'zod';
import { Subject } from './person/subject.ts';

/** What a person can ask for. */
export const REQUEST_KINDS = [
  'access',
  'correct',
  'delete',
  'move',
  'restrict',
  'object',
  'no sale',
  'no automated decision',
  'withdraw',
] as const;
export type RequestKind = (typeof REQUEST_KINDS)[number];

/** What it asks of the organisation, as a sentence goes on: “asks to see …”. */
export const KIND_WORDS: Readonly<Record<RequestKind, string>> = {
  access: 'to see what is held',
  correct: 'to have something put right',
  delete: 'to have it deleted',
  move: 'to take it elsewhere',
  restrict: 'to have it left alone',
  object: 'to have its use ended',
  'no sale': 'not to have it sold or shared',
  'no automated decision': 'to have a person decide',
  withdraw: 'to take back what was agreed to',
};

/** How it came in. */
export const WAYS_IN = ['form', 'mail', 'hand', 'interface'] as const;
export type WayIn = (typeof WAYS_IN)[number];
export const WAY_WORDS: Readonly<Record<WayIn, string>> = {
  form: 'by the form',
  mail: 'by mail',
  hand: 'taken in by hand',
  interface: 'by a program',
};

/** For whom somebody asks. */
export const FOR_WHOM = ['self', 'child', 'represented'] as const;
export type ForWhom = (typeof FOR_WHOM)[number];
export const WHOM_WORDS: Readonly<Record<ForWhom, string>> = {
  self: 'for themselves',
  child: 'for their child',
  represented: 'for somebody they represent',
};

/** How it ended. */
export const OUTCOMES = ['answered', 'refused', 'not known who', 'taken back', 'answered elsewhere'] as const;
export type Outcome = (typeof OUTCOMES)[number];
export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  answered: 'answered',
  refused: 'refused',
  'not known who': 'closed: who asks was never known',
  'taken back': 'taken back by the person',
  'answered elsewhere': 'answered with another request',
};

/** How it became known who asks. */
export const KNOWN_BY = ['link', 'link and questions', 'hand', 'not needed'] as const;
export type KnownBy = (typeof KNOWN_BY)[number];
export const KNOWN_WORDS: Readonly<Record<KnownBy, string>> = {
  link: 'a mailed link',
  'link and questions': 'a mailed link and questions',
  hand: 'somebody who looked',
  'not needed': 'no need to know',
};

/** ISO 3166-1, with a region of ISO 3166-2 where its law is its own; `ZZ` where nobody said. */
export const RequestRegion = z.string().regex(/^[A-Z]{2}(-[A-Z0-9]{1,3})?$/, 'A region such as DK or US-CA');

export const LanguageTag = z.string().regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})?$/, 'A language such as da');

/** A request as it is taken in, whichever way it comes. */
export const NewRequest = z.strictObject({
  kind: z.enum(REQUEST_KINDS),
  region: RequestRegion,
  language: LanguageTag.default('en'),
  whom: z.enum(FOR_WHOM).default('self'),
  /** Who asks, where that is another than whom it is about. */
  asker: z
    .strictObject({ name: z.string().trim().max(200), email: z.union([z.literal(''), z.email().max(254)]) })
    .default({ name: '', email: '' }),
  /** Whom it is about. */
  subject: Subject,
  /** In their own words. */
  words: z.string().trim().max(4000, 'At most 4,000 characters').default(''),
  /** The site whose form it was; '' elsewhere. */
  site: z.string().max(60).default(''),
});
export type NewRequest = z.infer<typeof NewRequest>;

/** Where letters about it go: to who asks. */
export function letterAddress({
  whom,
  asker,
  subject,
}: Pick<NewRequest, 'whom' | 'asker' | 'subject'>): string {
  return (whom === 'self' ? subject.emails[0] : asker.email || subject.emails[0]) ?? '';
}

/** How who asks is spoken to. */
export function letterName({ whom, asker, subject }: Pick<NewRequest, 'whom' | 'asker' | 'subject'>): string {
  return whom === 'self' ? subject.name : asker.name || subject.name;
}

/** `R-1182` */
export function requestNumber(id: number): string {
  return `R-${id}`;
}

/** What has to be known of who asks before anything goes out, by what a wrong answer would cost. */
export function identityNeed(kind: RequestKind): KnownBy {
  switch (kind) {
    case 'access':
    case 'move':
    case 'delete':
    case 'correct':
      return 'link and questions';
    case 'restrict':
    case 'object':
    case 'no automated decision':
      return 'link';
    case 'no sale':
    case 'withdraw':
      return 'not needed';
  }
}

/** Whether nothing may go out before it is known who asks. */
export function needsIdentity(kind: RequestKind): boolean {
  return identityNeed(kind) !== 'not needed';
}

/** Whether what is held has to be found and looked over for it. */
export function needsGathering(kind: RequestKind): boolean {
  return kind === 'access' || kind === 'move';
}

/** Whether something held is changed by it. */
export function changesHoldings(kind: RequestKind): boolean {
  return kind === 'delete' || kind === 'correct';
}
