import { z } from 'zod';

/** DATETIME(3) in UTC, as ISO 8601. */
export const Instant = z.string().transform((text) => `${text.replace(' ', 'T')}Z`);

/** A JSON column parsed by a schema of its own. */
export function JsonColumn<T extends z.ZodType>(schema: T) {
  return z
    .union([z.string(), z.unknown()])
    .transform((value) => (typeof value === 'string' ? (JSON.parse(value) as unknown) : value))
    .pipe(schema as z.ZodType<z.infer<T>, unknown>);
}

export const Flag = z.union([z.boolean(), z.number()]).transform(Boolean);

/** COUNT and SUM arrive as number, text or null. */
export const Count = z.union([z.number(), z.string(), z.null()]).transform((n) => Number(n ?? 0));

export const Bytes = z.instanceof(Buffer);

/** BIGINT ids arrive as numbers up to 2^53 and as text above. */
export const BigId = z.union([z.number(), z.string()]).transform(String);

/** An instant as MariaDB takes it. */
export function toDatetime(at: string | Date): string {
  return new Date(at).toISOString().slice(0, 23).replace('T', ' ');
}
