import { AsyncLocalStorage } from 'node:async_hooks';
import type { ChangedObject } from '../../core/desk/changed-object.ts';

interface AtWork {
  readonly changed: ChangedObject[];
  readonly token: number | undefined;
}
const atWork = new AsyncLocalStorage<AtWork>();

/** Runs `work`, of a program where a token is named; all that it puts on record is among `changed`. */
export async function withChanges<T>(
  work: () => Promise<T>,
  token?: number,
): Promise<{ readonly result: T; readonly changed: readonly ChangedObject[] }> {
  const changed: ChangedObject[] = [];
  return { result: await atWork.run({ changed, token }, work), changed };
}

/** Tells whoever asked for the work that is under way, if anybody did. */
export function noteChange(changed: ChangedObject): void {
  atWork.getStore()?.changed.push(changed);
}

/** The token whose program asked for the work that is under way; `undefined` where none did. */
export function tokenAtWork(): number | undefined {
  return atWork.getStore()?.token;
}
