import { Shelf } from '../parts/Shelf.tsx';
import { BROAD, CHANGES, HANDS, PEOPLE, PLACES, REVIEWS, SOURCES } from './links.ts';
import { useAccessShelf } from './use-access.ts';

/** The kinds of object in Access. */
export function AccessShelf({ what }: { readonly what: string | undefined }) {
  const { data } = useAccessShelf();
  const estate = data?.estate;
  const people = estate && estate.people + estate.groups;
  return (
    <Shelf
      entries={[
        {
          name: 'Places',
          count: estate?.places,
          href: PLACES,
          chosen: what === undefined || what === 'places',
        },
        { name: 'People and groups', count: people, href: PEOPLE, chosen: what === 'people' },
        { name: 'Changes', count: data?.changes, href: CHANGES, chosen: what === 'changes' },
        { name: 'Reviews', count: data?.reviews, href: REVIEWS, chosen: what === 'reviews' },
        { name: 'Too broad', count: data?.broad, href: BROAD, chosen: what === 'broad' },
        { name: 'Two pairs of hands', count: data?.hands, href: HANDS, chosen: what === 'hands' },
        { name: 'Where it is read', count: data?.sources, href: SOURCES, chosen: what === 'sources' },
      ]}
    />
  );
}
