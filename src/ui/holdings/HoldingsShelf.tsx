import { Shelf } from '../parts/Shelf.tsx';
import { useDetectors, useSets } from './detection/detectors/use-detectors.ts';
import { useFigures } from './explorer/use-lens.ts';
import { DETECTORS, RECORDS, SETS, SOURCES, SURVEYS } from './links.ts';
import { useActivities } from './records/use-records.ts';
import { useSources, useSystems } from './sources/use-sources.ts';
import { useSurveys } from './surveys/use-surveys.ts';

/** The kinds of object in Holdings. */
export function HoldingsShelf({ what }: { readonly what: string | undefined }) {
  const held = useFigures('everything');
  const systems = useSystems();
  const sources = useSources();
  const surveys = useSurveys();
  const detectors = useDetectors();
  const sets = useSets();
  const activities = useActivities();
  const { own = [], builtIn = [] } = detectors.data ?? {};
  const inSources = what === 'sources' || what === 'systems';
  return (
    <Shelf
      entries={[
        {
          name: 'What we hold',
          count: held.data?.items,
          href: '/holdings',
          chosen: what === undefined || what === 'items',
        },
        {
          name: 'Systems and sources',
          count: systems.data && sources.data && (systems.data.total ?? 0) + (sources.data.total ?? 0),
          href: SOURCES,
          chosen: inSources,
        },
        { name: 'Surveys', count: surveys.paged.total, href: SURVEYS, chosen: what === 'surveys' },
        {
          name: 'Detectors',
          count: detectors.data && own.length + builtIn.length,
          href: DETECTORS,
          chosen: what === 'detectors' || what === 'new',
        },
        {
          name: 'Records of processing',
          count: activities.data?.total,
          href: RECORDS,
          chosen: what === 'records',
        },
        { name: 'Labelled sets', count: sets.data?.length, href: SETS, chosen: what === 'sets' },
      ]}
    />
  );
}
