import { ACCESS } from './access/area.ts';
import { ACCOUNTS } from './accounts/area.ts';
import type { ServerArea } from './area.ts';
import { CASES } from './cases/area.ts';
import { DESK } from './desk/area.ts';
import { EVIDENCE } from './evidence/area.ts';
import { HOLDINGS } from './holdings/area.ts';
import { OBLIGATIONS } from './obligations/area.ts';
import { PROTECTION } from './protection/area.ts';
import { RETENTION } from './retention/area.ts';
import { WEBSITES } from './websites/area.ts';

export const AREAS: readonly ServerArea[] = [
  DESK,
  WEBSITES,
  HOLDINGS,
  PROTECTION,
  RETENTION,
  ACCESS,
  OBLIGATIONS,
  CASES,
  EVIDENCE,
  ACCOUNTS,
];
