import { z } from 'zod';

/** Where an alert stands. What is set aside was none; it never counts as solved. */
export const ALERT_STATES = ['new', 'looked into', 'solved', 'set aside'] as const;
export type AlertState = (typeof ALERT_STATES)[number];

export const isOpen = (state: AlertState): boolean => state === 'new' || state === 'looked into';

/** What somebody does about an alert. */
export const AlertAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('look into') }),
  z.strictObject({
    act: z.literal('solve'),
    note: z.string().trim().min(1, 'Say what was done about it.').max(1000),
  }),
  z.strictObject({
    act: z.literal('set aside'),
    note: z.string().trim().min(1, 'Say why it was none.').max(1000),
  }),
  z.strictObject({ act: z.literal('open again'), note: z.string().trim().max(1000).default('') }),
  z.strictObject({ act: z.literal('note'), note: z.string().trim().min(1, 'Write something.').max(1000) }),
  /** `null` for nobody. */
  z.strictObject({ act: z.literal('assign'), to: z.int().min(1).nullable() }),
]);
export type AlertAct = z.infer<typeof AlertAct>;

/** The state after an act; why not, where the state does not let it. */
export function afterAct(state: AlertState, { act }: AlertAct): AlertState | { readonly whyNot: string } {
  switch (act) {
    case 'look into':
      return state === 'new' ? 'looked into' : { whyNot: `It is ${state} already.` };
    case 'solve':
    case 'set aside': {
      const to = act === 'solve' ? 'solved' : 'set aside';
      return isOpen(state) ? to : { whyNot: `It is ${state} already. Open it again first.` };
    }
    case 'open again':
      return isOpen(state) ? { whyNot: 'It is open.' } : 'looked into';
    case 'note':
      return state;
    case 'assign':
      return isOpen(state) ? state : { whyNot: `It is ${state}. Open it again first.` };
  }
}

/** What else raised within so many days of the last, for the same, is one cause with it while that is open. */
export const ONE_CAUSE_DAYS = 7;

/** What stands in its timeline, beside what people do. */
export const STEP_KINDS = [
  ...(['raised', 'again', 'told', 'not told'] as const),
  ...(['look into', 'solve', 'set aside', 'open again', 'note', 'assign'] as const),
] as const;
export type StepKind = (typeof STEP_KINDS)[number];
