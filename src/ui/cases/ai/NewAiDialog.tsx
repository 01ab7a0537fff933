import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as catalogueApi from '../../../pages/api/cases/ai/catalogue.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { dateWords } from '../../desk/words.ts';
import { Field } from '../../parts/Field.tsx';
import { NewDossierDialog } from '../dossiers/NewDossierDialog.tsx';
import css from '../cases.module.css';

type Model = AnswerOf<typeof catalogueApi.GET>[number];

/** Takes in an AI system: by its name, from its card, or from a catalogue of models. */
export function NewAiDialog() {
  const [card, setCard] = useState('');
  const [catalogue, setCatalogue] = useState('');
  return (
    <NewDossierDialog
      what="ai"
      placeholder="Sorting mail of the terminals"
      more={{ card: catalogue ? '' : card, catalogue }}
    >
      <p className={css['note']}>The name may be left out where a card tells it.</p>
      <Field label="Its card" hint="Markdown with a YAML head, or CycloneDX as JSON">
        <textarea
          rows={4}
          value={card}
          disabled={catalogue !== ''}
          placeholder={'---\nmodel_name: deckhand-mail\nlicense: apache-2.0\n---'}
          onChange={(e) => setCard(e.target.value)}
        />
      </Field>
      <label className={css['note']}>
        or its file{' '}
        <input
          type="file"
          accept=".md,.json,.txt"
          onChange={(e) => {
            void e.target.files?.[0]?.text().then(setCard);
          }}
        />
      </label>
      <Catalogue chosen={catalogue} onChoose={setCatalogue} />
    </NewDossierDialog>
  );
}

const AGES = { '': 'of any age', '1': 'of the last year', '2': 'of the last two years' } as const;

function Catalogue({
  chosen,
  onChoose,
}: {
  readonly chosen: string;
  readonly onChoose: (id: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const [wish, setWish] = useState({ task: '', provider: '', licence: '', years: '' });
  const { data, error } = useQuery({
    queryKey: ['model catalogue'],
    queryFn: () => request<readonly Model[]>('GET', '/api/cases/ai/catalogue'),
    enabled: open,
    retry: false,
  });
  const since = wish.years
    ? new Date(Date.now() - Number(wish.years) * 365.25 * 86_400_000).toISOString().slice(0, 10)
    : '';
  const shown = (data ?? []).filter(
    (m) =>
      (wish.task === '' || m.task === wish.task) &&
      (wish.provider === '' || m.provider === wish.provider) &&
      (wish.licence === '' || m.licence === wish.licence) &&
      m.published >= since,
  );
  const choice = (key: 'task' | 'provider' | 'licence', any: string) => (
    <select aria-label={any} value={wish[key]} onChange={(e) => setWish({ ...wish, [key]: e.target.value })}>
      <option value="">{any}</option>
      {[...new Set((data ?? []).map((m) => m[key]))].toSorted().map((v) => (
        <option key={v}>{v}</option>
      ))}
    </select>
  );
  return (
    <details onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>or from the catalogue of models</summary>
      {error ? (
        <p className={css['mark']}>◆ {error.message}</p>
      ) : (
        <>
          <div className={css['acts']}>
            {choice('task', 'any task')}
            {choice('provider', 'any provider')}
            {choice('licence', 'any licence')}
            <select
              aria-label="Age"
              value={wish.years}
              onChange={(e) => setWish({ ...wish, years: e.target.value })}
            >
              {Object.entries(AGES).map(([v, words]) => (
                <option key={v} value={v}>
                  {words}
                </option>
              ))}
            </select>
          </div>
          <ul className={css['bearers']} aria-label="Models">
            {shown.map((m) => (
              <li key={m.id}>
                <label>
                  <input
                    type="radio"
                    name="model"
                    checked={chosen === m.id}
                    onChange={() => onChoose(m.id)}
                  />{' '}
                  {m.name}{' '}
                  <span className={css['place']}>
                    {m.provider} · {m.task} · {m.licence} · {dateWords(m.published)}
                  </span>
                </label>
              </li>
            ))}
            {data && shown.length === 0 && <li>None is like that.</li>}
          </ul>
        </>
      )}
    </details>
  );
}
