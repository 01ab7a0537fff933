// What other areas may use of this one.
export { reachOfFirm, reachOfHeld, type FirmExposure, type HeldReach } from './reach-of-held.ts';
