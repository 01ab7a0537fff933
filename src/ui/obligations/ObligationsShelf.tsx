import { useDeskLocation } from '../desk/location.ts';
import { Shelf } from '../parts/Shelf.tsx';
import { ASSESSMENTS, FAILED, LIBRARY, MEASURES } from './links.ts';
import { useAssessments, useFrameworks, useMeasures } from './use-obligations.ts';

/** The kinds of object in Obligations. */
export function ObligationsShelf({ what }: { readonly what: string | undefined }) {
  const { query } = useDeskLocation();
  const assessments = useAssessments();
  const frameworks = useFrameworks();
  const measures = useMeasures();
  const failed = query.get('show') === 'failed';
  return (
    <Shelf
      entries={[
        {
          ...{ name: 'Assessments', count: assessments.data?.length, href: ASSESSMENTS },
          chosen: what === undefined || what === 'assessments',
        },
        {
          ...{ name: 'Library of frameworks', count: frameworks.data?.length, href: LIBRARY },
          chosen: what === 'library',
        },
        {
          ...{ name: 'Measures', count: measures.data?.measures.length, href: MEASURES },
          chosen: what === 'measures' && !failed,
        },
        {
          name: 'Due and failed',
          count: measures.data?.measures.filter(needsHand).length,
          href: FAILED,
          chosen: what === 'measures' && failed,
        },
      ]}
    />
  );
}

/** Whether a measure is past its day, or its test fails. */
export function needsHand(m: {
  readonly test: string | null;
  readonly state: string;
  readonly due: string | null;
}): boolean {
  if (m.state === 'not applicable') return false;
  if (m.test === 'failed') return true;
  return m.due !== null && m.state !== 'done' && m.due < new Date().toISOString().slice(0, 10);
}
