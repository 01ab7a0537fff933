import { z } from 'zod';
import type { LedgerEntry } from '../../evidence/ledger.ts';
import { isObjectKind } from '../object-sight.ts';

/** A kind of object, for all that happens to one, or one action. */
const EventName = z
  .string()
  .refine((name) => isObjectKind(name) || /^[a-z][a-z -]*(\.[a-z -]+)+$/.test(name), {
    message: 'A kind of object, such as incident, or an action, such as incident.open',
  });

/** Reads what somebody typed, for `NewHook`. */
export function readEventName(text: string): { readonly value: string } | { readonly wrong: string } {
  const read = EventName.safeParse(text.trim());
  return read.success
    ? { value: read.data }
    : { wrong: read.error.issues[0]?.message ?? 'That is no event.' };
}

export const NewHook = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(120, '120 letters at most.'),
  url: z.string().max(2000),
  /** None for all that happens. */
  events: z.array(EventName).max(100, 'A hundred at most; leave them out for all.').default([]),
});
export type NewHook = z.infer<typeof NewHook>;

/** Whether what happened is one of the events that are asked for. */
export function isAskedFor(events: readonly string[], { action, object }: LedgerEntry): boolean {
  return events.length === 0 || events.includes(action) || events.includes(object);
}

/**
 * What happened, as a CloudEvent 1.0 in JSON. `source` is the address of the desk. Its id is that of the entry in the ledger,
 * by which it can be proved, and known again where it comes twice.
 */
export function cloudEvent(entry: LedgerEntry, source: string) {
  return {
    specversion: '1.0',
    id: entry.id,
    source,
    type: entry.action,
    subject: `${entry.object}/${entry.objectId}`,
    time: entry.at,
    datacontenttype: 'application/json',
    data: {
      actor: entry.actor,
      object: entry.object,
      objectId: entry.objectId,
      detail: entry.detail,
    },
  };
}
