import { useQuery } from '@tanstack/react-query';
import type * as websitesLibraryIdApi from '../../../pages/api/websites/library/[id].ts';
import type * as websitesLibraryApi from '../../../pages/api/websites/library/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { KnownTracker } from '../../../core/websites/trackers/known-tracker.ts';
import { TRACKER_KINDS } from '../../../core/websites/trackers/tracker.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { Field } from '../../parts/Field.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePurposes } from './use-purposes.ts';
import css from '../websites.module.css';

const BLANK: KnownTracker = {
  name: '',
  match: 'exact',
  kind: null,
  domain: '',
  provider: '',
  purpose: 'measurement',
  lifetime: '',
  texts: {},
};

/** One entry of the library, to read and to change. */
export function LibrarySoundings() {
  const id = useDeskLocation().query.get('entry');
  const entry = useQuery({
    queryKey: ['library', 'entry', id],
    queryFn: () => request<AnswerOf<typeof websitesLibraryIdApi.GET>>('GET', `/api/websites/library/${id}`),
    enabled: id !== null && id !== 'new',
  });
  if (id === null)
    return (
      <SoundingsSection title="What it does">
        <p>
          A name can be exact, hold <code>*</code> for anything, or be an expression. The closest fit counts:
          one with a domain before one without, an exact name before a pattern.
        </p>
        <p className={css['dim']}>A decision on a site goes before the library.</p>
      </SoundingsSection>
    );
  if (id === 'new') return <EntryForm key="new" entry={BLANK} />;
  if (entry.isError) return <Failure error={entry.error} onRetry={() => void entry.refetch()} />;
  if (!entry.data) return <Loading what="the entry" />;
  const { id: number, revision, editedAt: _at, ...known } = entry.data;
  return <EntryForm key={`${number} ${revision}`} entry={known} id={number} revision={revision} />;
}

function EntryForm({
  entry,
  id,
  revision,
}: {
  readonly entry: KnownTracker;
  readonly id?: number;
  readonly revision?: number;
}) {
  const mayEdit = useMay('websites.edit');
  const purposes = usePurposes().data ?? [];
  const [draft, setDraft] = useState(entry);
  const [error, setError] = useState<RequestError>();
  const [busy, setBusy] = useState(false);
  const set = (values: Partial<KnownTracker>) => setDraft({ ...draft, ...values });
  const wrong = (name: string) => error?.field(name, `entry.${name}`);
  const languages = [...new Set(['en', 'da', 'sv', 'de', ...Object.keys(draft.texts)])];
  const save = async () => {
    setBusy(true);
    const texts = Object.fromEntries(Object.entries(draft.texts).filter(([, t]) => t.trim() !== ''));
    const body = { ...draft, texts };
    try {
      if (id === undefined) {
        const added = await request<AnswerOf<typeof websitesLibraryApi.POST>>(
          'POST',
          '/api/websites/library',
          body,
        );
        tell('It is in the library.');
        setQuery({ entry: String(added.id) });
      } else {
        await request('PUT', `/api/websites/library/${id}`, { revision, entry: body });
        tell('Kept.', {
          undo: async () => {
            await request('PUT', `/api/websites/library/${id}`, { revision: (revision ?? 0) + 1, entry });
          },
        });
      }
      setError(undefined);
    } catch (e) {
      if (e instanceof RequestError) setError(e);
      else tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  const remove = async () => {
    try {
      await request('DELETE', `/api/websites/library/${id}`, {});
      setQuery({ entry: null });
      tell('Taken out of the library.', {
        undo: async () => {
          await request('POST', '/api/websites/library', entry);
        },
      });
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <SoundingsSection title={id === undefined ? 'New entry' : 'Entry of the library'}>
      <div className={css['opened']}>
        <h3 className={css['openedName']}>{entry.name || 'A known tracker'}</h3>
        <button
          type="button"
          aria-label="Close the entry"
          className={css['close']}
          onClick={() => setQuery({ entry: null })}
        >
          <X size={15} aria-hidden />
        </button>
      </div>
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        {error && error.refusal.fields.length === 0 && <p className={css['leak']}>◆ {error.message}</p>}
        <Field label="Name" error={wrong('name')}>
          <input
            className={css['wide']}
            autoFocus={id === undefined}
            value={draft.name}
            disabled={!mayEdit}
            onChange={(e) => set({ name: e.target.value })}
          />
        </Field>
        <Field
          label="It fits"
          hint="An expression must fit the whole name; it is read as RE2, which no name can hang."
        >
          <select
            className={css['wide']}
            value={draft.match}
            disabled={!mayEdit}
            onChange={(e) => set({ match: e.target.value as KnownTracker['match'] })}
          >
            <option value="exact">this name and no other</option>
            <option value="wildcard">names like it, * for anything</option>
            <option value="expression">names that fit an expression</option>
          </select>
        </Field>
        <Field label="Kind" error={wrong('kind')}>
          <select
            className={css['wide']}
            value={draft.kind ?? ''}
            disabled={!mayEdit}
            onChange={(e) =>
              set({ kind: e.target.value === '' ? null : (e.target.value as KnownTracker['kind']) })
            }
          >
            <option value="">any</option>
            {TRACKER_KINDS.map((k) => (
              <option key={k} value={k}>
                {k}
              </option>
            ))}
          </select>
        </Field>
        <Field
          label="Domain it reaches"
          hint="Empty for any; names below it count too."
          error={wrong('domain')}
        >
          <input
            className={css['wide']}
            value={draft.domain}
            disabled={!mayEdit}
            onChange={(e) => set({ domain: e.target.value })}
          />
        </Field>
        <Field label="Purpose" error={wrong('purpose')}>
          <select
            className={css['wide']}
            value={draft.purpose}
            disabled={!mayEdit}
            onChange={(e) => set({ purpose: e.target.value })}
          >
            {purposes.map((p) => (
              <option key={p.code} value={p.code}>
                {p.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Provider" error={wrong('provider')}>
          <input
            className={css['wide']}
            value={draft.provider}
            disabled={!mayEdit}
            onChange={(e) => set({ provider: e.target.value })}
          />
        </Field>
        <Field label="Lifetime, as the provider states it" error={wrong('lifetime')}>
          <input
            className={css['wide']}
            value={draft.lifetime}
            disabled={!mayEdit}
            onChange={(e) => set({ lifetime: e.target.value })}
          />
        </Field>
        <fieldset className={css['texts']}>
          <legend>What it does, for cookie statements</legend>
          {languages.map((l) => (
            <div key={l} className={css['textRow']}>
              <label htmlFor={`text-${l}`}>{new Intl.DisplayNames(['en'], { type: 'language' }).of(l)}</label>
              <textarea
                id={`text-${l}`}
                className={css['wide']}
                rows={2}
                maxLength={500}
                disabled={!mayEdit}
                value={draft.texts[l] ?? ''}
                onChange={(e) => set({ texts: { ...draft.texts, [l]: e.target.value } })}
              />
            </div>
          ))}
        </fieldset>
        {mayEdit && (
          <div className={css['formActs']}>
            <Button type="submit" kind="primary" busy={busy} disabled={draft.name.trim() === ''}>
              {id === undefined ? 'Add it' : 'Keep it'}
            </Button>
            {id !== undefined && <Button onClick={() => void remove()}>Take it out</Button>}
          </div>
        )}
      </form>
    </SoundingsSection>
  );
}
