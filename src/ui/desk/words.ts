/** Dates and counts as the desk writes them, in the viewer's own zone. */

export function dateWords(iso: string): string {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(iso),
  );
}

export function timeWords(iso: string): string {
  return new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' }).format(new Date(iso));
}

/** `today 09:40`, `yesterday 17:02`, `12 Nov 09:40`, with the year where it is another. */
export function whenWords(iso: string, now: Date = new Date()): string {
  const at = new Date(iso);
  const days = Math.round((startOfDay(now) - startOfDay(at)) / 86_400_000);
  if (days === 0) return `today ${timeWords(iso)}`;
  if (days === 1) return `yesterday ${timeWords(iso)}`;
  const sameYear = at.getFullYear() === now.getFullYear();
  const day = new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    ...(sameYear ? {} : { year: 'numeric' }),
  }).format(at);
  return `${day} ${timeWords(iso)}`;
}

export function dayWords(iso: string, now: Date = new Date()): string {
  return whenWords(iso, now).replace(/ \d{2}:\d{2}$/, '');
}

/** The day so many days ago, in ISO 8601. */
export function daysAgo(days: number, now: Date = new Date()): string {
  return new Date(now.getTime() - days * 86_400_000).toISOString().slice(0, 10);
}

export function numberWords(n: number): string {
  return new Intl.NumberFormat('en-GB').format(n);
}

export function percentWords(share: number, digits = 0): string {
  return new Intl.NumberFormat('en-GB', {
    style: 'percent',
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  }).format(share);
}

export function countWords(n: number, one: string, many = `${one}s`): string {
  return `${numberWords(n)} ${n === 1 ? one : many}`;
}

export function durationWords(seconds: number): string {
  if (seconds < 60) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** Of bytes, in steps of a thousand: `23.2 kB`. */
export function sizeWords(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let [size, step] = [bytes, 0];
  while (size >= 999.5 && step < units.length - 1) [size, step] = [size / 1000, step + 1];
  const digits = step === 0 || size >= 99.95 ? 0 : size >= 9.995 ? 1 : 2;
  return `${size.toFixed(digits)} ${units[step] ?? ''}`;
}

/** The name of a country by its code of ISO 3166-1. */
export function countryWords(code: string): string {
  return new Intl.DisplayNames('en', { type: 'region', fallback: 'code' }).of(code) ?? code;
}

function startOfDay(at: Date): number {
  return new Date(at.getFullYear(), at.getMonth(), at.getDate()).getTime();
}
