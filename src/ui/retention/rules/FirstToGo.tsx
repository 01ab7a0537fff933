import { dayText } from '../../../core/text/day.ts';
import type * as firstApi from '../../../pages/api/retention/rules/[id]/first.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ShownItem } from '../../../server/retention/rehearsal/outlook.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { numberWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { CutText, itemColumns } from '../item-columns.tsx';
import css from '../retention.module.css';

const COLUMNS: readonly Column<ShownItem>[] = [
  ...itemColumns<ShownItem>(),
  { key: 'owner', title: 'Owner', width: '110px', optional: true, hidden: true, cell: (i) => i.owner || '–' },
  {
    key: 'ends',
    title: 'Clock ended',
    width: '92px',
    align: 'right',
    cell: (i) => (i.ends === null ? '–' : dayText(i.ends)),
  },
  { key: 'over', title: 'Days over', width: '72px', align: 'right', cell: (i) => numberWords(i.daysOver) },
  {
    key: 'because',
    title: 'Wins because',
    width: '170px',
    optional: true,
    cell: (i) => <CutText text={i.because} />,
  },
];

/** What would go if a rule were in force today, the longest overdue first. */
export function FirstToGo({ id, revision }: { readonly id: string; readonly revision: number }) {
  return (
    <section className={css['first']}>
      <h2>First to go, if it were in force today</h2>
      <DataTable
        label="First to go, if it were in force today"
        name="retention-first"
        columns={COLUMNS}
        queryKey={['retention-first', id, revision]}
        load={(after) =>
          request<AnswerOf<typeof firstApi.GET>>(
            'GET',
            `/api/retention/rules/${encodeURIComponent(id)}/first${queryString({ after })}`,
          )
        }
        rowKey={(i) => String(i.id)}
        rowName={(i) => i.name}
        onOpen={(i) => go(itemLink(String(i.id), 'everything'))}
        empty={<p>Nothing would go today.</p>}
      />
    </section>
  );
}
