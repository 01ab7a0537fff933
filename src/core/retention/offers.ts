// What other areas may use of this one.
export { dayAfter, dayEnd, dayIn, lastDayOf, type Day } from './clock/period.ts';
export { isZone } from './rules/retention-policy.ts';
