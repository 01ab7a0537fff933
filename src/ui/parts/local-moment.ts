/** A moment in the viewer’s zone, as a control for day and time writes it: `2026-11-30T14:05`. */
export function localMoment(at: Date): string {
  const two = (n: number) => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** The moment that such a control holds, in ISO 8601, UTC; `null` for none. */
export function instantOf(local: string): string | null {
  const at = new Date(local);
  return local === '' || Number.isNaN(at.getTime()) ? null : at.toISOString();
}
