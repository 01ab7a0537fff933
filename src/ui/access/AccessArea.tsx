import type { Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { useDeskLocation } from '../desk/location.ts';
import { AccessShelf } from './AccessShelf.tsx';
import { BroadSheet } from './broad/BroadSheet.tsx';
import { ChangeDialog } from './changes/ChangeDialog.tsx';
import { ChangeRegister } from './changes/ChangeRegister.tsx';
import { ChangeSheet } from './changes/ChangeSheet.tsx';
import { EventsSheet } from './changes/EventsSheet.tsx';
import { HandsSheet } from './hands/HandsSheet.tsx';
import { NewHandsRule } from './hands/NewHandsRule.tsx';
import { PeopleOverview } from './people/PeopleOverview.tsx';
import { PeopleRegister } from './people/PeopleRegister.tsx';
import { PersonSheet } from './people/PersonSheet.tsx';
import { PersonSoundings } from './people/PersonSoundings.tsx';
import { PlaceRegister } from './places/PlaceRegister.tsx';
import { PlaceSheet } from './places/PlaceSheet.tsx';
import { PlaceSoundings } from './places/PlaceSoundings.tsx';
import { PlacesOverview } from './places/PlacesOverview.tsx';
import { NewReview } from './reviews/NewReview.tsx';
import { ReviewRegister } from './reviews/ReviewRegister.tsx';
import { ReviewSheet } from './reviews/ReviewSheet.tsx';
import { ReviewsOverview } from './reviews/ReviewsOverview.tsx';
import { AccessSourceSheet } from './sources/AccessSourceSheet.tsx';
import { NewAccessSource } from './sources/NewAccessSource.tsx';
import { SourcesSheet } from './sources/SourcesSheet.tsx';

/** Who reaches what, by which way, since when, and should they. */
export function AccessArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const on = query.get('on') ?? undefined;
  const asked = query.get('new');
  return (
    <Desk
      account={account}
      area="access"
      register={
        <>
          <AccessShelf what={what} />
          <RegisterOf what={what} id={id} />
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} on={on} />
          {asked === 'source' && <NewAccessSource />}
          {asked === 'hands' && <NewHandsRule />}
          {asked === 'review' && <NewReview query={query} />}
          {asked === 'change' && <ChangeDialog query={query} />}
        </>
      }
      soundings={soundingsOf(what, id, on)}
    />
  );
}

interface Shown {
  readonly what: string | undefined;
  readonly id: string | undefined;
}

function RegisterOf({ what, id }: Shown) {
  switch (what) {
    case 'people':
      return <PeopleRegister chosen={id} />;
    case 'changes':
      return <ChangeRegister chosen={id} />;
    case 'reviews':
      return <ReviewRegister chosen={id} />;
    case 'broad':
    case 'hands':
    case 'sources':
      return null;
    default:
      return <PlaceRegister chosen={what === 'places' ? id : undefined} />;
  }
}

function SheetOf({ what, id, on }: Shown & { readonly on: string | undefined }) {
  switch (what) {
    case 'people':
      return id ? <PersonSheet key={id} id={id} on={on} /> : <PeopleOverview />;
    case 'changes':
      return id ? <ChangeSheet key={id} id={id} /> : <EventsSheet />;
    case 'reviews':
      return id ? <ReviewSheet key={id} id={id} /> : <ReviewsOverview />;
    case 'broad':
      return <BroadSheet />;
    case 'hands':
      return <HandsSheet />;
    case 'sources':
      return id ? <AccessSourceSheet key={id} id={id} /> : <SourcesSheet />;
    default:
      return id ? <PlaceSheet key={id} id={id} on={on} /> : <PlacesOverview />;
  }
}

function soundingsOf(what: string | undefined, id: string | undefined, on: string | undefined) {
  if (what === 'people') return id ? <PersonSoundings key={id} id={id} on={on} /> : undefined;
  return what === 'places' && id ? <PlaceSoundings key={id} id={id} on={on} /> : undefined;
}
