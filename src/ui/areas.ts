import { ACCESS } from './access/area.ts';
import { ACCOUNT } from './account/area.ts';
import type { UiArea } from './area.ts';
import { CASES } from './cases/area.ts';
import { EVIDENCE } from './evidence/area.ts';
import { HOLDINGS } from './holdings/area.ts';
import { OBLIGATIONS } from './obligations/area.ts';
import { TODAY } from './today/area.ts';
import { PROTECTION } from './protection/area.ts';
import { RETENTION } from './retention/area.ts';
import { WEBSITES } from './websites/area.ts';

/** In the order of the top bar. */
export const AREAS: readonly UiArea[] = [
  TODAY,
  WEBSITES,
  HOLDINGS,
  PROTECTION,
  RETENTION,
  ACCESS,
  OBLIGATIONS,
  CASES,
  EVIDENCE,
  ACCOUNT,
];
