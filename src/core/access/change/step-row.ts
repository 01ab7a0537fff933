import { rowIdentity, type EstateRow } from '../estate/estate-row.ts';
import { sameList, type AccessStep } from './access-change.ts';

/** The row of the estate that a step is about; see `rowIdentity`. */
export function stepIdentity(step: AccessStep): string {
  switch (step.is) {
    case 'grant':
      return rowIdentity(step.grant);
    case 'link':
      return rowIdentity(step.link);
    case 'member':
      return rowIdentity({ type: 'member', group: step.group, member: step.member });
    case 'inherits':
    case 'owner':
    case 'list':
      return JSON.stringify(['place', step.place]);
    case 'account':
      return JSON.stringify(['person', step.person]);
  }
}

/** The place that a step is written at; `undefined` for one that is at none. */
export function placeOfStep(step: AccessStep): string | undefined {
  switch (step.is) {
    case 'grant':
      return step.grant.place;
    case 'link':
      return step.link.place;
    case 'inherits':
    case 'owner':
    case 'list':
      return step.place;
    case 'member':
    case 'account':
      return undefined;
  }
}

/**
 * What a step makes of its row, as it stands; null where the row goes. Throws a RangeError where the place or the person that
 * it changes is not there.
 */
export function rowAfterStep(
  step: AccessStep,
  before: EstateRow | undefined,
  given: { readonly by: string; readonly at: string },
): EstateRow | null {
  switch (step.is) {
    case 'grant':
      return step.act === 'take' ? null : { ...step.grant, ...given };
    case 'link':
      return step.act === 'take' ? null : { ...step.link, ...given };
    case 'member':
      return step.act === 'take' ? null : { type: 'member', group: step.group, member: step.member };
    case 'inherits':
    case 'owner':
    case 'list': {
      if (before?.type !== 'place') throw new RangeError('Its source does not tell of this place any more.');
      if (step.is === 'inherits') return { ...before, inherits: step.after };
      if (step.is === 'owner') return { ...before, owner: step.after };
      if (!before.posix) throw new RangeError('It has no list any more.');
      const { mode: _, ...posix } = before.posix;
      return { ...before, posix: { ...posix, acl: step.after } };
    }
    case 'account':
      if (before?.type !== 'person') throw new RangeError('Nobody is called so any more.');
      return { ...before, state: step.after };
  }
}

/** Whether what a step makes is so, by its row as it stands. */
export function isStepDone(step: AccessStep, standing: EstateRow | undefined): boolean {
  switch (step.is) {
    case 'grant':
    case 'link':
    case 'member':
      return (standing !== undefined) === (step.act === 'add');
    case 'inherits':
      return standing?.type === 'place' && standing.inherits === step.after;
    case 'owner':
      return standing?.type === 'place' && standing.owner === step.after;
    case 'list':
      return standing?.type === 'place' && sameList(standing.posix?.acl ?? [], step.after);
    case 'account':
      return standing?.type === 'person' && standing.state === step.after;
  }
}
