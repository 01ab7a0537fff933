import { ACCESS } from './access/area.ts';
import { ACCOUNTS } from './accounts/area.ts';
import { CASES } from './cases/area.ts';
import { DESK } from './desk/area.ts';
import type { DemoArea } from './demo.ts';
import { EVIDENCE } from './evidence/area.ts';
import { HOLDINGS } from './holdings/area.ts';
import { OBLIGATIONS } from './obligations/area.ts';
import { PROTECTION } from './protection/area.ts';
import { RETENTION } from './retention/area.ts';
import { WEBSITES } from './websites/area.ts';

/** In the order in which they stand on each other. */
export const AREAS: readonly DemoArea[] = [
  ACCOUNTS,
  WEBSITES,
  HOLDINGS,
  PROTECTION,
  RETENTION,
  ACCESS,
  OBLIGATIONS,
  CASES,
  // Of what all others put on Today.
  DESK,
  // Of what all others are counted by.
  EVIDENCE,
];
