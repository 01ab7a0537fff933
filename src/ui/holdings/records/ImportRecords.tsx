import { ACTIVITY_FIELDS, type ActivityField } from '../../../core/holdings/records/activity-table.ts';
import type * as tableApi from '../../../pages/api/holdings/activities/import/table.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { SendTable } from '../tables/SendTable.tsx';
import css from '../estate.module.css';

type Outcome = AnswerOf<typeof tableApi.POST>;

const PATH = '/api/holdings/activities/import';

/** Takes records from a workbook or CSV; what it would do is told before it is done. */
export function ImportRecords({ onClose }: { readonly onClose: () => void }) {
  const send = (sent: object, rehearse: boolean) =>
    request<Outcome>('POST', `${PATH}/table`, { ...sent, rehearse });
  return (
    <SendTable<ActivityField>
      title="Take records from a table"
      hint="As it is exported here, or any with a row for each activity. None is taken out."
      fields={ACTIVITY_FIELDS}
      path={PATH}
      rehearse={async (sent) => <WouldDo outcome={await send(sent, true)} />}
      take={async (sent) => {
        const { added, changed } = await send(sent, false);
        tell(`${countWords(added.length, 'record')} added, ${changed.length} changed.`);
        onClose();
      }}
      onClose={onClose}
    />
  );
}

function WouldDo({ outcome: { added, changed, same } }: { readonly outcome: Outcome }) {
  return (
    <ul className={css['why']}>
      <li>
        {countWords(added.length, 'record')} would be added
        {added.length > 0 && `: ${added.slice(0, 5).join(', ')}${added.length > 5 ? ' …' : ''}`}
      </li>
      <li>{countWords(changed.length, 'record')} would change</li>
      {changed.slice(0, 5).map((c) => (
        <li key={c.name}>
          <b>{c.name}</b>: {c.words.join('; ')}
        </li>
      ))}
      {changed.length > 5 && <li>… and {changed.length - 5} more</li>}
      <li>{same} would stay as they are</li>
    </ul>
  );
}
