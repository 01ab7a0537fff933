import { useState } from 'react';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { FlowSheet } from './FlowSheet.tsx';
import { ImportRecords } from './ImportRecords.tsx';
import { ContradictionList } from './ContradictionList.tsx';
import { useActivities, useContradictions } from './use-records.ts';
import css from '../estate.module.css';

const EXPORTS = [
  { id: 'pdf', words: 'As a document (PDF)' },
  { id: 'xlsx', words: 'As a workbook (XLSX)' },
  { id: 'csv', words: 'As a table (CSV)' },
  { id: 'dpv', words: 'For a program (DPV, JSON-LD)' },
] as const;

/** All records, held against what was found. */
export function RecordsSheet() {
  const activities = useActivities();
  const found = useContradictions();
  const may = useMay('holdings.records');
  const { query } = useDeskLocation();
  const [taking, setTaking] = useState(false);
  const shown = query.get('show') === 'flows' ? 'flows' : '';
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
          <>
            {may && <Button onClick={() => setTaking(true)}>Take from a table</Button>}
            <MenuButton
              label="Export"
              acts={EXPORTS.map(({ id, words }) => ({
                id,
                words,
                act: () => location.assign(`/api/holdings/activities/export?format=${id}`),
              }))}
            />
          </>
        }
      />
      <p>
        <Segments
          label="What is shown"
          value={shown}
          options={[
            { value: '', words: 'Contradictions', count: open.length },
            { value: 'flows', words: 'Who gives what to whom' },
          ]}
          onChange={(value) => setQuery({ show: value || null, node: null })}
        />
      </p>
      {shown === 'flows' ? (
        <FlowSheet />
      ) : (
        <>
          {open.length === 0 ? <p>Records and what was found agree.</p> : <ContradictionList found={open} />}
          {accepted.length > 0 && (
            <>
              <h2 className={css['heading']}>Accepted as they are</h2>
              <ContradictionList found={accepted} />
            </>
          )}
        </>
      )}
      {taking && <ImportRecords onClose={() => setTaking(false)} />}
    </>
  );
}
