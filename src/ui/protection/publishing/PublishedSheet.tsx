import { useDeferredValue, useState } from 'react';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { findStaff, useOffered, useStaff } from '../use-publishing.ts';
import { Programs } from './Programs.tsx';
import { StaffList } from './StaffList.tsx';
import css from '../protection.module.css';

/** Whom levels are published to: what anybody is offered, who is known, and the programs that ask. */
export function PublishedSheet() {
  const staff = useStaff('');
  const mayReadIn = useMay('staff.edit');
  const [reading, setReading] = useState(false);
  if (staff.isError && !staff.data)
    return <Failure error={staff.error} onRetry={() => void staff.refetch()} />;
  if (!staff.data) return <Loading what="the people" />;
  const { people, groups, readAt } = staff.data.figures;
  return (
    <>
      <SheetHead
        title="Published to people"
        detail={
          readAt
            ? `${countWords(people, 'person', 'people')} in ${countWords(groups, 'group')}, as the list of ${whenWords(readAt)} says`
            : 'No list of people was read yet: levels are offered to nobody'
        }
        actions={
          mayReadIn && (
            <Button kind={readAt ? 'plain' : 'primary'} onClick={() => setReading(true)}>
              Read in a list of people …
            </Button>
          )
        }
      />
      {people > 0 && <WhoIsOffered />}
      <Programs />
      {reading && <StaffList onClose={() => setReading(false)} />}
    </>
  );
}

/** One person: what they are offered, and why. */
function WhoIsOffered() {
  const { query } = useDeskLocation();
  const person = query.get('person') ?? '';
  const [text, setText] = useState(person);
  const found = useStaff(useDeferredValue(text.trim()));
  const offered = useOffered(person);
  const choose = (address: string) => setQuery({ person: address }, 'replace');
  return (
    <section aria-label="What somebody is offered">
      <h2 className={css['heading']}>What is somebody offered?</h2>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          // What was typed last may not have been looked for yet.
          void findStaff(text.trim()).then(
            ({ found: [one] }) => choose(one?.address ?? text.trim()),
            tellFailure,
          );
        }}
      >
        <input
          className={css['search']}
          list="staff-found"
          aria-label="Name or address"
          placeholder="Type a name or an address"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            if (found.data?.found.some((f) => f.address === e.target.value)) choose(e.target.value);
          }}
        />
        <datalist id="staff-found">
          {found.data?.found.map((f) => (
            <option key={f.address} value={f.address}>
              {f.name}
              {f.unit && `, ${f.unit}`}
            </option>
          ))}
        </datalist>{' '}
        <Button type="submit">Look</Button>
      </form>
      {offered.isError && (
        <p role="alert" className={css['mark']}>
          ◆ {offered.error.message}
        </p>
      )}
      {offered.data && (
        <div role="status">
          <p className={css['answer']}>
            {offered.data.name}
            {offered.data.levels.map((l) => (
              <span key={l.id} className={css['offered']}>
                <span className={css['swatch']} style={{ background: l.colour }} /> {l.name}
                {l.isStart && <span className={css['begins']}>begins with it</span>}
              </span>
            ))}
          </p>
          {offered.data.words.map((w) => (
            <p key={w} className={css['note']}>
              {w}
            </p>
          ))}
          <p className={css['note']}>
            {offered.data.groups.length > 0
              ? `In ${offered.data.groups.map((g) => (g.steps === 1 ? g.name : `${g.name} (${g.steps - 1} up)`)).join(', ')}.`
              : 'In no group.'}
          </p>
        </div>
      )}
    </section>
  );
}
