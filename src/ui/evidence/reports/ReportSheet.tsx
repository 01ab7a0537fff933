import { useState } from 'react';
import {
  FORMATS,
  FORMAT_NAMES,
  RANGES,
  RANGE_NAMES,
  type Format,
  type Range,
  type Report,
} from '../../../core/evidence/reports/report.ts';
import type { Part } from '../../../core/figures/figure.ts';
import { scheduleWords } from '../../../core/schedule/schedule.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { RemoveDialog } from '../../parts/RemoveDialog.tsx';
import { ScheduleSlots } from '../../parts/ScheduleSlots.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { FileTable } from './FileTable.tsx';
import { ReceiversDialog } from './ReceiversDialog.tsx';
import { useMaking, useOpenReport, useReport, useSubjects, type OpenReport } from './use-reports.ts';
import css from '../boards/boards.module.css';

/** A report as a sentence, when it is made next, and what was made of it. */
export function ReportSheet({ id }: { readonly id: number }) {
  const open = useOpenReport(id);
  if (open.isError) return <Failure error={open.error} onRetry={() => void open.refetch()} />;
  return open.data ? <Loaded open={open.data} /> : <Loading what="the report" />;
}

function Loaded({ open }: { readonly open: OpenReport }) {
  const { id, files, nextAt, lastAt, madeBy, mayEdit } = open;
  const kept = useReport(id);
  const report = kept.query.data?.content ?? open.report;
  const make = useMaking(id);
  const [isSending, setSending] = useState(false);
  const [isRemoving, setRemoving] = useState(false);
  const remove = async () => {
    await request('DELETE', `/api/evidence/reports/${id}`);
    tell(`“${report.name}” is gone, with its files.`);
    go('/evidence/reports');
  };
  const isMaking = files.some((f) => f.state === 'waiting');
  return (
    <>
      <SheetHead
        title={report.name}
        detail={[
          report.schedule && nextAt ? `next ${whenWords(nextAt)}` : 'made when somebody asks',
          lastAt ? `last ${whenWords(lastAt)}` : 'never made yet',
          madeBy ? `what ${madeBy.name} may see` : 'nobody answers for it',
        ].join(' · ')}
        actions={
          mayEdit && (
            <>
              <Button kind="primary" busy={isMaking} onClick={() => void make()}>
                Make it now
              </Button>
              <MenuButton
                label="More"
                acts={[{ id: 'remove', words: 'Remove it, with its files', act: () => setRemoving(true) }]}
              />
            </>
          )
        }
      />
      <ReportSentence
        report={report}
        sentTo={open.sentTo}
        fixed={!mayEdit}
        onSave={(next, done) => void kept.save(next, done)}
        onReceivers={() => setSending(true)}
      />
      <h2 className={css['title']}>What was made of it</h2>
      {files.length === 0 ? (
        <Empty title="Nothing was made of it yet">Make it now, or say when it is made by itself.</Empty>
      ) : (
        <FileTable files={files} />
      )}
      {isRemoving && (
        <RemoveDialog
          name={report.name}
          lost={`It is not made any more, and ${countWords(files.length, 'file of it goes', 'files of it go')}; the ledger keeps their digests.`}
          onRemove={remove}
          onClose={() => setRemoving(false)}
        />
      )}
      {isSending && (
        <ReceiversDialog
          report={report}
          addresses={open.addresses}
          onSave={async (next, addresses) => {
            if (addresses) await request('PUT', `/api/evidence/reports/${id}/addresses`, { addresses });
            await kept.save(next, 'Kept.');
          }}
          onClose={() => setSending(false)}
        />
      )}
    </>
  );
}

function ReportSentence({
  report,
  sentTo,
  fixed,
  onSave,
  onReceivers,
}: {
  readonly report: Report;
  /** People without an account. */
  readonly sentTo: number;
  readonly fixed: boolean;
  readonly onSave: (next: Report, done: string) => void;
  readonly onReceivers: () => void;
}) {
  const subjects = useSubjects().data?.subjects ?? [];
  const subject = subjects.find((s) => s.id === report.what);
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const told = report.people.length + sentTo;
  return (
    <Sentence label="Report">
      It tells of{' '}
      <Slot
        label="What it tells of"
        words={subject?.name ?? report.what}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: report.what,
          options: subjects.map((s) => ({ value: s.id, words: s.name, detail: s.group })),
          set: (what) => onSave({ ...report, what, by: null, range: 'all' }, 'It tells of that now.'),
        }}
      />
      {subject?.takes.includes('days') && (
        <>
          , of{' '}
          <Slot
            label="Which days"
            words={RANGES[report.range]}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: report.range,
              options: RANGE_NAMES.map((r) => ({ value: r, words: RANGES[r] })),
              set: (range) => onSave({ ...report, range: range as Range }, 'Of those days.'),
            }}
          />
        </>
      )}
      {subject?.takes.includes('lens') && (
        <>
          , of{' '}
          <Slot
            label="Line of the lens"
            words={report.lens === '' ? 'everything' : report.lens}
            fixed={fixed}
            edit={{
              kind: 'text',
              value: report.lens,
              most: 4000,
              set: (lens) => onSave({ ...report, lens }, 'Of that lens.'),
            }}
          />
        </>
      )}
      {subject && subject.parts.length > 0 && (
        <>
          , by{' '}
          <Slot
            label="Told apart by"
            words={report.by ?? 'time'}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: report.by ?? '',
              options: [{ value: '', words: 'time' }, ...subject.parts.map((p) => ({ value: p, words: p }))],
              set: (by) => onSave({ ...report, by: by === '' ? null : (by as Part) }, 'Told apart so.'),
            }}
          />
        </>
      )}
      , as{' '}
      <Slot
        label="Format"
        words={FORMATS[report.format]}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: report.format,
          options: FORMAT_NAMES.map((f) => ({ value: f, words: FORMATS[f] })),
          set: (format) =>
            onSave({ ...report, format: format as Format }, `As ${FORMATS[format as Format]}.`),
        }}
      />
      , and is made{' '}
      <ScheduleSlots
        label="When it is made"
        schedule={report.schedule}
        idle="when somebody asks"
        zone={zone}
        fixed={fixed}
        onSet={(schedule) =>
          onSave(
            { ...report, schedule },
            schedule ? `It is made ${scheduleWords(schedule)}.` : 'It is made when somebody asks.',
          )
        }
      />
      .{' '}
      {fixed ? (
        <>{countWords(told, 'person is', 'people are')} told.</>
      ) : (
        <Button kind="quiet" className={css['inline'] ?? ''} onClick={onReceivers}>
          {told === 0 ? 'Nobody is told' : `${countWords(told, 'person is', 'people are')} told`}
        </Button>
      )}{' '}
      It is kept for {countWords(report.keepDays, 'day')}.
    </Sentence>
  );
}
