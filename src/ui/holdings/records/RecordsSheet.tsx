import { countWords } from '../../desk/words.ts';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { ContradictionList } from './ContradictionList.tsx';
import { useActivities, useContradictions } from './use-records.ts';
import css from '../estate.module.css';

/** All records, held against what was found. */
export function RecordsSheet() {
  const activities = useActivities();
  const found = useContradictions();
  if (found.isError && !found.data)
    return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="records, held against what was found" />;
  const open = found.data.filter((c) => !c.accepted);
  const accepted = found.data.filter((c) => c.accepted);
  return (
    <>
      <SheetHead
        title="Records of processing"
        detail={`${countWords(activities.data?.total ?? 0, 'activity', 'activities')} · ${countWords(open.length, 'contradiction')} with what is held, or with the law`}
        actions={
          <MenuButton
            label="Export"
            acts={[
              {
                id: 'csv',
                words: 'As a table (CSV)',
                act: () => location.assign('/api/holdings/activities/export'),
              },
              {
                id: 'dpv',
                words: 'For a program (DPV, JSON-LD)',
                act: () => location.assign('/api/holdings/activities/export?format=dpv'),
              },
            ]}
          />
        }
      />
      {open.length === 0 ? <p>Records and what was found agree.</p> : <ContradictionList found={open} />}
      {accepted.length > 0 && (
        <>
          <h2 className={css['heading']}>Accepted as they are</h2>
          <ContradictionList found={accepted} />
        </>
      )}
    </>
  );
}
