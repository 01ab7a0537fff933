/** Which version a visitor sees: by their key alone, so that it is the same for as long as they keep one. */
export function isOnTrial(visitorKey: string, share: number): boolean {
  // The last 32 of 128 random bits.
  return parseInt(visitorKey.slice(-8), 16) / 0x1_0000_0000 < share / 100;
}
