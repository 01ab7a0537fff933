import { z } from 'zod';

const Count = z.int().min(0);

/** Who and how many an incident is about, as it was reckoned from what it touched. */
export const Reckoned = z.object({
  items: Count,
  /** People told apart by keyed hashes; `null` where nothing tells. */
  people: Count.nullable(),
  /** Where they could not be told apart, at most so many more. */
  atMost: Count,
  /** Relative; 0 where they were counted one by one. */
  error: z.number().min(0),
  data: z.array(
    z.object({ detector: z.string(), name: z.string(), category: z.string(), items: Count, matches: Count }),
  ),
  listed: z.array(
    z.object({
      id: z.number().nullable(),
      name: z.string(),
      where: z.string(),
      people: Count,
      lastAt: z.string().nullable(),
    }),
  ),
  /** Who could reach what it touched, place by place; `on` a day in ISO 8601, or as it was when it was reckoned. */
  reach: z
    .array(
      z.object({
        ...{ where: z.string(), key: z.string(), people: Count, guests: Count, leavers: Count },
        used: Count.nullable(),
        anyone: z.boolean(),
        on: z.string().nullable(),
      }),
    )
    .default([]),
  /** What could not be reckoned, and why. */
  unknown: z.array(z.string()),
});
export type Reckoned = z.infer<typeof Reckoned>;

/** As many as it may be about; `null` where nobody reckoned it. */
export function mostPeople(reckoned: Pick<Reckoned, 'people' | 'atMost'> | null): number | null {
  return reckoned && (reckoned.people ?? 0) + reckoned.atMost;
}

/** `402 people`, `402 to 450 people`, `about 12,000 people` */
export function peopleWords({
  people,
  atMost,
  error,
}: Pick<Reckoned, 'people' | 'atMost' | 'error'>): string {
  const n = (value: number) => new Intl.NumberFormat('en-GB').format(value);
  if (people === null) return atMost > 0 ? `up to ${n(atMost)} people` : 'nobody knows how many people';
  const most = people + atMost;
  if (atMost > 0) return `${n(people)} to ${n(most)} people`;
  return `${error > 0 ? 'about ' : ''}${n(people)} ${people === 1 ? 'person' : 'people'}`;
}

/** `23 people could reach it on 20 Nov 2026 (2 guests, 1 who had left, 9 used it in the 90 days before); whoever had a link, too` */
export function reachedByWords(
  { people, guests, leavers, used, anyone, on }: Reckoned['reach'][number],
  day: (iso: string) => string,
): string {
  const n = (value: number) => new Intl.NumberFormat('en-GB').format(value);
  const more = [
    guests > 0 && `${n(guests)} ${guests === 1 ? 'guest' : 'guests'}`,
    leavers > 0 && `${n(leavers)} who had left`,
    used !== null && `${used === 0 ? 'nobody' : n(used)} used it in 90 days`,
  ].filter(Boolean);
  return `${people === 1 ? '1 person' : `${people === 0 ? 'nobody' : n(people)}${people === 0 ? '' : ' people'}`} ${on ? 'could' : 'can'} reach it${on ? ` on ${day(on)}` : ' now'}${more.length > 0 ? ` (${more.join(', ')})` : ''}${anyone ? '; whoever has a link, too' : ''}`;
}
