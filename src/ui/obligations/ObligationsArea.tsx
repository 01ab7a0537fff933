import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey } from '../desk/keys.ts';
import { useDeskLocation } from '../desk/location.ts';
import { AssessmentRegister } from './assessments/AssessmentRegister.tsx';
import { AssessmentSheet } from './assessments/AssessmentSheet.tsx';
import { AssessmentSoundings } from './assessments/AssessmentSoundings.tsx';
import { AssessmentsOverview } from './assessments/AssessmentsOverview.tsx';
import { NewAssessment } from './assessments/NewAssessment.tsx';
import { FrameworkRegister } from './library/FrameworkRegister.tsx';
import { FrameworkSheet } from './library/FrameworkSheet.tsx';
import { FrameworkSoundings } from './library/FrameworkSoundings.tsx';
import { LibraryOverview } from './library/LibraryOverview.tsx';
import { MeasureSheet } from './measures/MeasureSheet.tsx';
import { MeasuresSheet } from './measures/MeasuresSheet.tsx';
import { ObligationsShelf } from './ObligationsShelf.tsx';

/** What the law asks, how far we are, and what to do next. */
export function ObligationsArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what, id] = path;
  const keys = useMemo(
    () => (may(account, 'obligations.edit') ? newKey('Start an assessment', 'assessment') : []),
    [account],
  );
  return (
    <Desk
      account={account}
      area="obligations"
      keys={keys}
      register={
        <>
          <ObligationsShelf what={what} />
          {what === 'library' ? (
            <FrameworkRegister chosen={id} />
          ) : (
            what !== 'measures' && <AssessmentRegister chosen={id} />
          )}
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} />
          {query.get('new') === 'assessment' && <NewAssessment framework={query.get('framework') ?? ''} />}
        </>
      }
      soundings={soundingsOf(what, id)}
    />
  );
}

function SheetOf({ what, id }: { readonly what: string | undefined; readonly id: string | undefined }) {
  switch (what) {
    case 'library':
      return id ? <FrameworkSheet key={id} id={id} /> : <LibraryOverview />;
    case 'measures':
      return id ? <MeasureSheet key={id} id={id} /> : <MeasuresSheet />;
    default:
      return id ? <AssessmentSheet key={id} id={id} /> : <AssessmentsOverview />;
  }
}

function soundingsOf(what: string | undefined, id: string | undefined) {
  if (!id) return undefined;
  if (what === 'library') return <FrameworkSoundings key={id} id={id} />;
  return what === 'assessments' ? <AssessmentSoundings key={id} id={id} /> : undefined;
}
