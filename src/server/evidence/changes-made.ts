import { AsyncLocalStorage } from 'node:async_hooks';
import type { ChangedObject } from '../../core/desk/changed-object.ts';

const made = new AsyncLocalStorage<ChangedObject[]>();

/** Runs `work`; all that it puts on record is among `changed`. */
export async function withChanges<T>(
  work: () => Promise<T>,
): Promise<{ readonly result: T; readonly changed: readonly ChangedObject[] }> {
  const changed: ChangedObject[] = [];
  return { result: await made.run(changed, work), changed };
}

/** Tells whoever asked for the work that is under way, if anybody did. */
export function noteChange(changed: ChangedObject): void {
  made.getStore()?.push(changed);
}
