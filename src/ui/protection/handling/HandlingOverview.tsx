import { SheetHead } from '../../parts/SheetHead.tsx';
import { ACTIVITY, ASKED, DEVICES, GROUPS, USE } from '../links.ts';
import { useHandlingRules, useNamedGroups } from './use-handling.ts';
import css from '../protection.module.css';

/** What rules there are and which ways they hold on; what to begin with where there are none. */
export function HandlingOverview() {
  const rules = useHandlingRules().data ?? [];
  const inForce = rules.filter((r) => r.stage.state === 'in force');
  const ways = new Set(inForce.flatMap((r) => Object.keys(r.channels)));
  return (
    <>
      <SheetHead
        title="Handling rules"
        detail="What may be done with data in motion, decided where it is done"
      />
      {rules.length === 0 ? (
        <p className={css['note']}>
          There is none yet. Press New: name it, choose a way and what it is about, and see at once what it
          would have done over the last 30 days.
        </p>
      ) : (
        <p>
          {inForce.length} of {rules.length} are in force, on{' '}
          {ways.size === 0 ? 'no way' : [...ways].join(', ')}. Open one to see what it would have done.
        </p>
      )}
      <p className={css['note']}>
        How often they hold, and how rightly, stands in <a href={USE}>How rules are met</a>; what people
        asked, in <a href={ASKED}>Asked by people</a>. What was done stands in <a href={ACTIVITY}>Activity</a>
        ; who decides by them, in <a href={DEVICES}>Devices</a>; what they name together, in{' '}
        <a href={GROUPS}>Groups rules use</a>.
      </p>
    </>
  );
}

export function GroupsOverview() {
  const groups = useNamedGroups().data ?? [];
  return (
    <>
      <SheetHead
        title="Groups rules use"
        detail="Destinations, programs, printers, drives, shares, networks and paths, named together"
      />
      <p className={css['note']}>
        {groups.length === 0
          ? 'There is none yet. Press New to name some; begin with what is yours, so that rules know what is outside.'
          : `${groups.filter((g) => g.ours).length} of ${groups.length} are ours: what goes there does not leave us.`}
      </p>
    </>
  );
}
