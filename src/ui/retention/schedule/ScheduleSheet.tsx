import { useState } from 'react';
import type * as scheduleApi from '../../../pages/api/retention/schedule/index.ts';
import { SCHEDULE_FIELDS, type ScheduleField } from '../../../core/retention/schedule/schedule-table.ts';
import type * as tableApi from '../../../pages/api/retention/schedule/import/table.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { lensLink, SendTable } from '../../holdings/offers.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { YearlyReview } from '../review/YearlyReview.tsx';
import { retentionRuleLink } from '../links.ts';
import { peopleWords } from '../people-words.ts';
import { useSchedule } from '../use-retention.ts';
import css from '../retention.module.css';

type Schedule = AnswerOf<typeof scheduleApi.GET>;

const PATH = '/api/retention/schedule';

/** All rules against what is held and against the records of processing: what nobody says anything of. */
export function ScheduleSheet() {
  const schedule = useSchedule();
  const mayEdit = useMay('retention.edit');
  const [sending, setSending] = useState(false);
  if (schedule.isError && !schedule.data)
    return <Failure error={schedule.error} onRetry={() => void schedule.refetch()} />;
  if (!schedule.data) return <Loading what="the schedule" />;
  const { data } = schedule;
  const bare = data.sources.reduce((n, s) => n + s.items - s.ruled - s.byLaw, 0);
  const save = (as: string) => location.assign(`${PATH}/export?as=${as}`);
  return (
    <>
      <SheetHead
        title={
          data.sources.length === 0
            ? 'Nothing is held yet that a rule could keep'
            : bare === 0
              ? '✓ A rule or a law says of everything how long it is kept'
              : `Of ${countWords(bare, 'item')} nobody says how long they are kept`
        }
        detail={
          bare === 0
            ? `${countWords(data.rules, 'rule')} in force or rehearsing`
            : `${peopleWords(data.barePeople)} in them · ${countWords(data.rules, 'rule')} in force or rehearsing`
        }
        actions={
          <>
            <MenuButton
              label="Export"
              acts={[
                { id: 'xlsx', words: 'The schedule as a workbook', act: () => save('xlsx') },
                { id: 'csv', words: 'The schedule as CSV', act: () => save('csv') },
                { id: 'json', words: 'The schedule as JSON', act: () => save('json') },
                {
                  id: 'rules',
                  words: 'Rules and laws in force, for ./yare retention',
                  act: () => save('rules'),
                },
                { id: 'holds', words: 'Holds in force, for ./yare retention', act: () => save('holds') },
              ]}
            />
            {mayEdit && <Button onClick={() => setSending(true)}>Take rules from a table …</Button>}
          </>
        }
      />
      <h2 className={css['heading']}>How far rules reach, by source</h2>
      <SourceTable sources={data.sources} />
      {data.bare.length > 0 && (
        <>
          <h2 className={css['heading']}>Where nobody says anything</h2>
          <FigureTable
            columns={['Place', { figure: 'Items' }, { figure: 'People' }]}
            rows={data.bare.map((p) => ({
              key: p.place,
              cells: [p.place, numberWords(p.items), numberWords(p.people)],
            }))}
          />
        </>
      )}
      <h2 className={css['heading']}>Against the records of processing</h2>
      <CheckList>
        {data.unruledActivities.length === 0 && (
          <li>✓ Every record whose systems hold something has a rule there</li>
        )}
        {data.unruledActivities.map((a) => (
          <li key={a.id}>
            <span className={css['mark']}>◆ No rule: </span>
            <a href={`/holdings/records/${a.id}`}>{a.name}</a>, {countWords(a.items, 'item')} in its systems
            {a.kept && <small>It says: {a.kept}</small>}
          </li>
        ))}
        {data.unnamedRules.map((r) => (
          <li key={r.id}>
            <span className={css['mark']}>◆ No record: </span>
            <a href={retentionRuleLink(r.id)}>{r.name}</a> decides of {countWords(r.items, 'item')} in systems
            that no record names
          </li>
        ))}
      </CheckList>
      <YearlyReview />
      {sending && <TakeSchedule onClose={() => setSending(false)} />}
    </>
  );
}

function SourceTable({ sources }: Pick<Schedule, 'sources'>) {
  return (
    <FigureTable
      columns={[
        'Source',
        'Reach',
        { figure: 'With a rule' },
        { figure: 'By law alone' },
        { figure: 'With neither' },
      ]}
      rows={sources.map(({ id, name, items, ruled, byLaw }) => {
        const bare = items - ruled - byLaw;
        return {
          key: id,
          cells: [
            <a href={lensLink(`place in "${id}"`)}>{name}</a>,
            <span className={`${css['cover']} ${css['small']}`} aria-hidden>
              <i data-is="rule" style={{ flexGrow: ruled }} />
              <i data-is="law" style={{ flexGrow: byLaw }} />
              <i style={{ flexGrow: bare }} />
            </span>,
            numberWords(ruled),
            numberWords(byLaw),
            bare === 0 ? '✓ 0' : numberWords(bare),
          ],
        };
      })}
    />
  );
}

type Outcome = AnswerOf<typeof tableApi.POST>;

/** Takes rules from a workbook or CSV, as drafts; what it would do is told before it is done. */
function TakeSchedule({ onClose }: { readonly onClose: () => void }) {
  const send = (sent: object, rehearse: boolean) =>
    request<Outcome>('POST', `${PATH}/import/table`, { ...sent, rehearse });
  return (
    <SendTable<ScheduleField>
      title="Take rules from a table"
      hint="As it is exported here, or any with a row for each rule. They are drafts; nothing is in force by it."
      fields={SCHEDULE_FIELDS}
      path={`${PATH}/import`}
      rehearse={async (sent) => {
        const { added, changed, same } = await send(sent, true);
        return (
          <CheckList>
            <li>
              {countWords(added.length, 'rule')} would be begun
              {added.length > 0 && `: ${added.slice(0, 6).join(', ')}`}
            </li>
            <li>{countWords(changed.length, 'draft')} would change</li>
            {changed.slice(0, 6).map((c) => (
              <li key={c.name}>
                <b>{c.name}</b>: {c.words.join('; ')}
              </li>
            ))}
            <li>{same} would stay as they are</li>
          </CheckList>
        );
      }}
      take={async (sent) => {
        const { added, changed } = await send(sent, false);
        tell(`${countWords(added.length, 'rule')} begun, ${changed.length} changed.`);
        onClose();
      }}
      onClose={onClose}
    />
  );
}
