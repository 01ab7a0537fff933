const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/**
 * A day as somebody types it, as ISO 8601: `20 Nov 2026`, `20 November 2026`, `2026-11-20`, `20.11.2026`, `20/11/2026`.
 * The day stands before the month. `undefined` for what is no day, such as 31 Feb.
 */
export function parseDay(text: string): string | undefined {
  const plain = text.trim().toLowerCase();
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(plain);
  if (iso) return isoDay(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numbers = /^(\d{1,2})[./](\d{1,2})[./](\d{4})$/.exec(plain);
  if (numbers) return isoDay(Number(numbers[3]), Number(numbers[2]), Number(numbers[1]));
  const words = /^(\d{1,2})\.?\s+([a-z]{3,9})\.?,?\s+(\d{4})$/.exec(plain);
  const month = MONTHS.indexOf((words?.[2] ?? '').slice(0, 3)) + 1;
  return words && month > 0 ? isoDay(Number(words[3]), month, Number(words[1])) : undefined;
}

function isoDay(year: number, month: number, day: number): string | undefined {
  const at = new Date(Date.UTC(year, month - 1, day));
  const isReal = at.getUTCFullYear() === year && at.getUTCMonth() === month - 1 && at.getUTCDate() === day;
  return isReal && year >= 1900 ? at.toISOString().slice(0, 10) : undefined;
}

/** `20 Nov 2026`, of a day in ISO 8601; whatever else it is given, as it is. */
export function dayText(iso: string): string {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})$/.exec(iso) ?? [];
  const name = MONTHS[Number(month) - 1];
  return name === undefined ? iso : `${Number(day)} ${name[0]?.toUpperCase()}${name.slice(1)} ${year}`;
}
