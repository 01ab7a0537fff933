import { SheetHead } from '../../parts/SheetHead.tsx';
import { EventsTable } from './EventsTable.tsx';

/** Everything that was given and taken away, wherever it was done. */
export function EventsSheet() {
  return (
    <>
      <SheetHead
        title="What was given and taken away"
        detail="Grants, links, memberships and inheritance, by whoever did it; those made from here stand on the left as changes"
      />
      <EventsTable name="access-events" />
    </>
  );
}
