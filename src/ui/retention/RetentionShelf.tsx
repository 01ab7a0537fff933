import { Shelf } from '../parts/Shelf.tsx';
import { CLOCKS, DISPOSALS, HOLDS, LAW, RULES, SCHEDULE } from './links.ts';
import { useRetentionShelf } from './use-retention.ts';

/** The kinds of object in Retention. */
export function RetentionShelf({ what }: { readonly what: string | undefined }) {
  const { data } = useRetentionShelf();
  return (
    <Shelf
      entries={[
        { name: 'Rules', count: data?.rules, href: RULES, chosen: what === undefined || what === 'rules' },
        { name: 'Schedule and reach', count: undefined, href: SCHEDULE, chosen: what === 'schedule' },
        { name: 'What the law asks', count: data?.bounds, href: LAW, chosen: what === 'law' },
        { name: 'Holds', count: data?.holds, href: HOLDS, chosen: what === 'holds' },
        { name: 'Clocks', count: data?.clocks, href: CLOCKS, chosen: what === 'clocks' },
        { name: 'Disposals', count: data?.disposals, href: DISPOSALS, chosen: what === 'disposals' },
      ]}
    />
  );
}
