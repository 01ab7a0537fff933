import type { ServerArea } from '../area.ts';
import { forgetOldSessions } from './session.ts';

export const ACCOUNTS: ServerArea = {
  area: 'accounts',
  upkeep: [{ name: 'old sessions', everyMs: 3_600_000, work: forgetOldSessions }],
};
