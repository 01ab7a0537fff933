import { Shelf } from '../parts/Shelf.tsx';
import {
  ACTIVITY,
  ALERTS,
  DEVICES,
  GROUPS,
  HANDLING,
  EVIDENCE,
  LEVELS,
  LOOKOUTS,
  PUBLISHED,
  RULES,
  RUNS,
} from './links.ts';
import { useProtectionShelf } from './use-protection.ts';

/** The kinds of object in Protection. */
export function ProtectionShelf({ what }: { readonly what: string | undefined }) {
  const { data } = useProtectionShelf();
  return (
    <Shelf
      entries={[
        {
          name: 'Levels',
          count: data?.levels,
          href: LEVELS,
          chosen: what === undefined || what === 'levels',
        },
        { name: 'Level rules', count: data?.rules, href: RULES, chosen: what === 'rules' },
        {
          name: 'Published to people',
          count: data?.publications,
          href: PUBLISHED,
          chosen: what === 'published',
        },
        { name: 'Handling rules', count: data?.handling, href: HANDLING, chosen: what === 'handling' },
        { name: 'Activity', count: data?.activity, href: ACTIVITY, chosen: what === 'activity' },
        { name: 'Open alerts', count: data?.alerts, href: ALERTS, chosen: what === 'alerts' },
        { name: 'Lookouts', count: data?.lookouts, href: LOOKOUTS, chosen: what === 'lookouts' },
        { name: 'Kept of data in motion', count: data?.evidence, href: EVIDENCE, chosen: what === 'kept' },
        { name: 'Devices', count: data?.devices, href: DEVICES, chosen: what === 'devices' },
        { name: 'Groups rules use', count: data?.groups, href: GROUPS, chosen: what === 'groups' },
        { name: 'Levels set backwards', count: data?.runs, href: RUNS, chosen: what === 'runs' },
      ]}
    />
  );
}
