/** When the day so many days from now begins, in the viewer’s zone: also where days between are 23 or 25 hours long. */
export function startOfDay(days: number, now: Date = new Date()): Date {
  return new Date(now.getFullYear(), now.getMonth(), now.getDate() + days);
}
