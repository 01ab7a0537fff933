import { z } from 'zod';
import { addressWords, SourceAddress } from '../sources/source.ts';

/** A place that holds data, as a listing names it, before anybody decided whether it is a source. */
export const Store = z.strictObject({
  /** What the listing knows it by, for good. */
  key: z.string().trim().min(1, 'It needs an id.').max(200),
  name: z.string().trim().min(1, 'It needs a name.').max(200),
  address: SourceAddress,
  /** Whose it is, as the listing says; often nothing. */
  team: z.string().trim().max(120).default(''),
  region: z.string().trim().max(60).default(''),
  bytes: z.number().min(0).nullable().default(null),
  created: z.iso.datetime({ offset: true }).nullable().default(null),
});
export type Store = z.infer<typeof Store>;

/**
 * A page of an account's listing (JSON): `stores`, each with `id`, `name`, `address` (as sources have it) and what is known
 * of `team`, `region`, `bytes`, `created`; `next` leads to the page after it.
 */
export const StorePage = z.object({
  stores: z.array(z.unknown()).max(5000),
  next: z.string().max(1000).nullish(),
});

/** What could not be taken of a listing, and why. */
export interface StoreFault {
  /** As the listing knows it, where it says so. */
  readonly id: string | null;
  readonly store: string;
  readonly words: string;
}

/** A store of an account's page, or what is wrong with it. */
export function storeOf(told: unknown): Store | StoreFault {
  const { id, ...rest } = (typeof told === 'object' && told !== null ? told : {}) as Record<string, unknown>;
  const known = ['name', 'address', 'team', 'region', 'bytes', 'created'];
  const parsed = Store.safeParse({
    key: typeof id === 'number' ? String(id) : id,
    // What else an account tells of a store is its own business.
    ...Object.fromEntries(Object.entries(rest).filter(([k, v]) => known.includes(k) && v !== null)),
  });
  if (parsed.success) return parsed.data;
  const named = [rest['name'], id].find((n) => typeof n === 'string' || typeof n === 'number');
  return {
    id: typeof id === 'string' || typeof id === 'number' ? String(id).slice(0, 200) : null,
    store: named === undefined ? 'One without a name' : String(named).slice(0, 200),
    words: parsed.error.issues
      .slice(0, 3)
      .map((i) => `${i.path.join('.') || 'store'}: ${i.message}`)
      .join(' '),
  };
}

/** The same for one and the same place, whoever opens it and by whatever name. */
export function placeKey(address: SourceAddress): string {
  switch (address.kind) {
    case 'folder':
    case 'mail folder':
      return `${address.kind} ${address.root.replace(/\/+$/, '')}`;
    case 'imap':
      return `imap ${address.host.toLowerCase()}:${address.port} ${address.user}`;
    case 'mariadb':
    case 'postgresql':
      return `${address.kind} ${address.host.toLowerCase()}:${address.port} ${address.database}`;
    case 'object store':
      return `object store ${new URL(address.endpoint).host} ${address.bucket} ${address.prefix.replace(/\/+$/, '')}`;
  }
}

/** What is told of one field that changed. */
export interface StoreChange {
  readonly what: 'name' | 'place' | 'team' | 'region';
  readonly before: string;
  readonly now: string;
}

/** What differs and matters: that data comes and goes in it does not. */
export function storeChanges(before: Store, now: Store): readonly StoreChange[] {
  const of = (s: Store) => ({
    name: s.name,
    place: `${s.address.kind} ${addressWords(s.address)}`,
    team: s.team,
    region: s.region,
  });
  const [b, n] = [of(before), of(now)];
  return (Object.keys(b) as StoreChange['what'][])
    .filter((what) => b[what] !== n[what])
    .map((what) => ({ what, before: b[what], now: n[what] }));
}

export function changeWords({ what, before, now }: StoreChange): string {
  if (before === '') return `${what} is now ${now}`;
  return now === ''
    ? `${what} was ${before}, and is not told any more`
    : `${what} was ${before}, and is now ${now}`;
}
