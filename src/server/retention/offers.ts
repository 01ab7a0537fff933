// What other areas may use of this one.
export { forgetFindings } from './disposal/forget.ts';
export { keepersOf, type ItemKeeper } from './items/keepers.ts';
export { guardItems } from './policy.ts';
