import { z } from 'zod';
import { PurposeCode } from './purpose-code.ts';
import type { Purpose } from './purpose.ts';

/** The organisation's purposes as they are said anew: their names, and the order in which visitors are asked. */
export const PurposeList = z
  .array(
    z.strictObject({
      code: PurposeCode,
      name: z.string().trim().min(1, 'Give the purpose a name').max(60, 'At most 60 characters'),
      essential: z.boolean(),
      shares: z.boolean(),
    }),
  )
  .min(1, 'Keep at least one purpose')
  .max(13, 'At most 13 purposes: nobody reads more')
  .superRefine((list, ctx) => {
    const twice = (key: 'code' | 'name') =>
      list.findIndex((p, i) => list.findIndex((o) => o[key].toLowerCase() === p[key].toLowerCase()) < i);
    for (const key of ['code', 'name'] as const) {
      const at = twice(key);
      if (at >= 0)
        ctx.addIssue({
          code: 'custom',
          path: [at, key],
          message: `There is a purpose “${list[at]?.[key]}” already`,
        });
    }
    if (list.filter((p) => p.essential).length !== 1)
      ctx.addIssue({ code: 'custom', path: [], message: 'Just one purpose is essential' });
  });

/** What points at a purpose, and so what a change of it touches. */
export interface PurposeUse {
  /** Trackers of the newest sweeps that are sorted so. */
  readonly trackers: number;
  readonly known: number;
  /** Sites whose notice asks for it. */
  readonly notices: readonly string[];
  /** Among the newest of all that are on record. */
  readonly records: number;
  readonly tags: number;
  /** Of notices that ever asked for it: records may point at it for as long as they are kept. */
  readonly versions: number;
}

export function isUsed(use: PurposeUse): boolean {
  return use.trackers + use.known + use.notices.length + use.records + use.tags + use.versions > 0;
}

/** A code for a new purpose, from its name, that none of the others has. */
export function newCode(name: string, others: readonly Pick<Purpose, 'code'>[]): string {
  const base =
    name
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^[^a-z]+|-+$/g, '')
      .slice(0, 24)
      .replace(/-+$/, '') || 'purpose';
  const taken = new Set(others.map((o) => o.code));
  for (let n = 1; ; n++) {
    const code = n === 1 ? base : `${base}-${n}`;
    if (!taken.has(code)) return code;
  }
}

/** What becomes of what there is when a purpose is renamed, in words. */
export function renameWords(use: PurposeUse): string {
  const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
  return [
    `${count(use.trackers, 'tracker', 'trackers')} and ${count(use.tags, 'tag', 'tags')} keep it under the new name.`,
    `${count(use.records, 'record keeps', 'records keep')} what was shown when it was made.`,
    use.notices.length > 0
      ? `Visitors of ${use.notices.join(', ')} read its own text there, which stays as it is until it is edited.`
      : '',
  ]
    .filter(Boolean)
    .join(' ');
}
