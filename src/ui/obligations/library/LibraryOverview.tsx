import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { dateWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { frameworkLink } from '../links.ts';
import { useFrameworks } from '../use-obligations.ts';
import { TakeFramework } from './TakeFramework.tsx';

/** All frameworks that ship. */
export function LibraryOverview() {
  const frameworks = useFrameworks();
  const { query } = useDeskLocation();
  const mayTake = useMay('obligations.edit');
  if (frameworks.isError && !frameworks.data)
    return <Failure error={frameworks.error} onRetry={() => void frameworks.refetch()} />;
  if (!frameworks.data) return <Loading what="the library" />;
  return (
    <>
      <SheetHead
        title="Library of frameworks"
        detail="What laws and standards ask, in our own words with their references; plain files in the folder library; and the organisation’s own"
        actions={
          mayTake && (
            <Button onClick={() => setQuery({ new: 'framework' }, 'push')}>Take in a framework …</Button>
          )
        }
      />
      <FigureTable
        columns={['Framework', 'Text', { figure: 'Controls' }, 'In here', 'As of']}
        rows={frameworks.data.map((f) => ({
          key: f.id,
          cells: [
            <a href={frameworkLink(f.id)}>{f.name}</a>,
            f.title,
            numberWords(f.controls),
            f.own ? '◇ our own' : f.whole ? '✓ all of it' : '○ a part',
            dateWords(f.version),
          ],
        }))}
      />
      {query.get('new') === 'framework' && mayTake && (
        <TakeFramework onClose={() => setQuery({ new: null })} />
      )}
    </>
  );
}
