import { useState, type ReactNode } from 'react';
import type { TableFields } from '../../../core/holdings/tables/table-fields.ts';
import type { Headings, TableView } from '../../../server/holdings/tables/sent-table.ts';
import { request } from '../../desk/request.ts';
import { saveAnswer } from '../../desk/save-answer.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { sendFile } from '../send-file.ts';
import css from '../estate.module.css';

interface SendTableProps<F extends string> {
  readonly title: string;
  readonly hint: string;
  readonly fields: TableFields<F>;
  /** Endpoints below it: `columns`, `marked`. */
  readonly path: string;
  /** Takes it; what it throws is shown beside the cells it names. */
  readonly take: (sent: { readonly upload: number; readonly headings: Headings<F> }) => Promise<void>;
  /** What taking it would do, asked once its columns are matched. */
  readonly rehearse?: (sent: {
    readonly upload: number;
    readonly headings: Headings<F>;
  }) => Promise<ReactNode>;
  readonly onClose: () => void;
}

/** Sends a workbook or CSV: its columns are matched in place, and all of it is taken or nothing. */
export function SendTable<F extends string>({
  title,
  hint,
  fields,
  path,
  take: taking,
  rehearse,
  onClose,
}: SendTableProps<F>) {
  const FIELDS = Object.keys(fields) as F[];
  const [upload, setUpload] = useState<number>();
  const [sight, setSight] = useState<TableView<F>>();
  const [headings, setHeadings] = useState<Headings<F>>({});
  const [rehearsed, setRehearsed] = useState<ReactNode>();
  const { busy, refused, send: work } = useSending();
  const choose = (file: File | undefined) =>
    file &&
    work(async () => {
      const sent = await sendFile(file);
      const seen = await request<TableView<F>>('POST', `${path}/columns`, { upload: sent });
      setUpload(sent);
      setSight(seen);
      setHeadings(seen.matched);
      setRehearsed(undefined);
    });
  const withTable = (act: (sent: { upload: number; headings: Headings<F> }) => Promise<void>) =>
    work(async () => {
      if (upload !== undefined) await act({ upload, headings });
    });
  const faults = refused?.refusal.fields.filter((f) => f.field.startsWith('row ')) ?? [];
  return (
    <Dialog title={title} onClose={onClose}>
      <div className={css['form']}>
        <Field
          label="Workbook or CSV"
          hint={hint}
          error={
            refused && faults.length === 0 && !sight
              ? (refused.field('upload') ?? refused.message)
              : undefined
          }
        >
          <input
            type="file"
            accept=".xlsx,.csv,.tsv,.txt"
            onChange={(e) => void choose(e.target.files?.[0])}
          />
        </Field>
        {sight && (
          <>
            <p className={css['note']}>{countWords(sight.rows, 'row')}. What its columns are:</p>
            <table className={css['estimate']}>
              <thead>
                <tr>
                  <th scope="col">What is needed</th>
                  <th scope="col">Its column</th>
                  <th scope="col">First row</th>
                </tr>
              </thead>
              <tbody>
                {FIELDS.map((field) => {
                  const { words, needed } = fields[field];
                  const at = sight.headings.indexOf(headings[field] ?? '');
                  const wrong = refused?.field(`headings.${field}`);
                  return (
                    <tr key={field}>
                      <td>
                        {words}
                        {needed ? '' : <span className={css['judged']}> if there is one</span>}
                      </td>
                      <td>
                        <select
                          aria-label={`Column of ${words}`}
                          value={headings[field] ?? ''}
                          onChange={(e) => {
                            const { [field]: _was, ...rest } = headings;
                            setRehearsed(undefined);
                            setHeadings(
                              (e.target.value === ''
                                ? rest
                                : { ...rest, [field]: e.target.value }) as Headings<F>,
                            );
                          }}
                        >
                          <option value="">none</option>
                          {[...new Set(sight.headings)].filter(Boolean).map((h) => (
                            <option key={h}>{h}</option>
                          ))}
                        </select>
                        {wrong && <div className={css['mark']}>◆ {wrong}</div>}
                      </td>
                      <td className={css['name']}>{at < 0 ? '' : sight.examples[0]?.[at]}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </>
        )}
        {refused && sight && (
          <div role="alert">
            <p className={css['mark']}>◆ {refused.message}</p>
            {faults.length > 0 && (
              <>
                <ul className={css['why']}>
                  {faults.slice(0, 8).map((f, i) => (
                    <li key={i}>
                      <b>{f.field}</b>: {f.message}
                    </li>
                  ))}
                  {faults.length > 8 && <li>… and more, in the copy.</li>}
                </ul>
                <Button
                  onClick={() => void saveAnswer(`${path}/marked`, { upload, headings }).catch(tellFailure)}
                >
                  Save a copy with every fault marked
                </Button>
              </>
            )}
          </div>
        )}
        {rehearsed && !refused && <div role="status">{rehearsed}</div>}
        <div className={css['formActs']}>
          {sight && rehearse && !rehearsed && (
            <Button
              kind="primary"
              busy={busy}
              onClick={() => void withTable(async (sent) => setRehearsed(await rehearse(sent)))}
            >
              See what it would do
            </Button>
          )}
          {sight && (!rehearse || rehearsed) && (
            <Button kind="primary" busy={busy} onClick={() => void withTable(taking)}>
              Take it
            </Button>
          )}
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </div>
    </Dialog>
  );
}
