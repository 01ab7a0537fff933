import { IANAZone } from 'luxon';
import { z } from 'zod';
import { ANY_ACTS, CATEGORIES, SEVERITIES, Watch } from './lookout.ts';

const Clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time of day such as 22:00');
const Zone = z
  .string()
  .max(60)
  .refine((zone) => IANAZone.isValidZone(zone), 'A time zone such as Europe/Copenhagen');
const Day = z.iso.date('A day such as 2026-12-01');

/** A rule that watches what is done, what it raises, and who is told. */
export const LookoutContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  watch: Watch,
  severity: z.enum(SEVERITIES),
  category: z.enum(CATEGORIES),
  tell: z.strictObject({
    /** Addresses that get a letter; the desk always shows what was raised. */
    mail: z.array(z.email('An e-mail address')).max(50, 'At most 50 people'),
    /** Numbers of webhooks. */
    hooks: z.array(z.string().regex(/^\d{1,10}$/)).max(20, 'At most 20'),
    /** Tellings on one day; what is raised beyond stands at the desk alone. */
    mostADay: z.int().min(1, 'At least 1').max(1000, 'At most 1,000'),
    /** Hours in which nobody is told: it waits until they end. They may go over midnight. */
    quiet: z.strictObject({ from: Clock, to: Clock, zone: Zone }).nullable(),
  }),
  /** It watches from this day on, and until the end of that one; always where `null`. */
  from: Day.nullable(),
  until: Day.nullable(),
  because: z.string().trim().max(400),
});
export type LookoutContent = z.infer<typeof LookoutContent>;

/** Whole: what only its parts together can have wrong. */
export const WholeLookout = LookoutContent.superRefine((c, ctx) => {
  if (c.from && c.until && c.until < c.from)
    ctx.addIssue({ code: 'custom', path: ['until'], message: `It begins only on ${c.from}.` });
  if (c.tell.quiet && c.tell.quiet.from === c.tell.quiet.to)
    ctx.addIssue({ code: 'custom', path: ['tell', 'quiet', 'to'], message: 'Quiet hours have to end.' });
});

/** What is begun with: more than a few on one day by one person. */
export function firstLookout(name: string, watch: Partial<Watch> = {}): LookoutContent {
  return {
    ...{ name, severity: 'medium', category: 'data leaving', from: null, until: null, because: '' },
    watch: { ...ANY_ACTS, when: { is: 'more than', count: 5, minutes: 1440, by: 'person' }, ...watch },
    tell: { mail: [], hooks: [], mostADay: 10, quiet: null },
  };
}

/** Whether it watches on a day (ISO 8601). */
export function watchesOn({ from, until }: Pick<LookoutContent, 'from' | 'until'>, day: string): boolean {
  return (from === null || from <= day) && (until === null || day <= until);
}
