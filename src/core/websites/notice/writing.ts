/** Whether a language is written from right to left. */
export function isRightToLeft(tag: string): boolean {
  return /^(ar|he|fa|ur|yi|ps|sd|ug|dv|ckb)(-|$)/.test(tag);
}
