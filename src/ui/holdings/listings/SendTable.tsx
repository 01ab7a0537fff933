import { useState } from 'react';
import { STORE_FIELDS, type StoreField } from '../../../core/holdings/listings/store-table.ts';
import type * as columnsApi from '../../../pages/api/holdings/listings/columns.ts';
import type * as tableApi from '../../../pages/api/holdings/listings/[id]/table.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryClient } from '../../desk/changed.ts';
import { RequestError } from '../../desk/request-error.ts';
import { request } from '../../desk/request.ts';
import { saveAnswer } from '../../desk/save-answer.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { sendFile } from '../send-file.ts';
import css from '../estate.module.css';

type Sight = AnswerOf<typeof columnsApi.POST>;
type Headings = Readonly<Partial<Record<StoreField, string>>>;

const FIELDS = Object.keys(STORE_FIELDS) as StoreField[];

/** Sends a workbook or CSV of stores: its columns are matched in place, and all of it is taken or nothing. */
export function SendTable({ id, onClose }: { readonly id: string; readonly onClose: () => void }) {
  const [upload, setUpload] = useState<number>();
  const [sight, setSight] = useState<Sight>();
  const [headings, setHeadings] = useState<Headings>({});
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<RequestError>();
  const work = async (what: () => Promise<void>) => {
    setBusy(true);
    setRefused(undefined);
    try {
      await what();
    } catch (failure) {
      if (failure instanceof RequestError) setRefused(failure);
      else tellFailure(failure);
    } finally {
      setBusy(false);
    }
  };
  const choose = (file: File | undefined) =>
    file &&
    work(async () => {
      const sent = await sendFile(file);
      const seen = await request<Sight>('POST', '/api/holdings/listings/columns', {
        upload: sent,
        listing: Number(id),
      });
      setUpload(sent);
      setSight(seen);
      setHeadings(seen.matched);
    });
  const take = () =>
    work(async () => {
      const outcome = await request<AnswerOf<typeof tableApi.POST>>(
        'POST',
        `/api/holdings/listings/${id}/table`,
        { upload, headings },
      );
      tell(
        `${countWords(outcome.stores, 'store')} read: ${outcome.new} new, ${outcome.changed} changed, ${outcome.gone} gone.`,
      );
      void queryClient.invalidateQueries({ queryKey: ['listing-view', id] });
      onClose();
    });
  const faults = refused?.refusal.fields.filter((f) => f.field.startsWith('row ')) ?? [];
  return (
    <Dialog title="Send a table of stores" onClose={onClose}>
      <div className={css['form']}>
        <Field
          label="Workbook or CSV"
          hint="The first sheet, with headings above and a row for each store."
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
                  const { words, needed } = STORE_FIELDS[field];
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
                            setHeadings(e.target.value === '' ? rest : { ...rest, [field]: e.target.value });
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
                  onClick={() =>
                    void saveAnswer(`/api/holdings/listings/${id}/marked`, { upload, headings }).catch(
                      tellFailure,
                    )
                  }
                >
                  Save a copy with every fault marked
                </Button>
              </>
            )}
          </div>
        )}
        <div className={css['formActs']}>
          {sight && (
            <Button kind="primary" busy={busy} onClick={() => void take()}>
              Take it
            </Button>
          )}
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </div>
    </Dialog>
  );
}
