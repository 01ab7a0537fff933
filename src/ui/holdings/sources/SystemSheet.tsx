import type { SystemContent } from '../../../core/holdings/sources/source.ts';
import { SOURCE_KINDS } from '../../../core/holdings/sources/source.ts';
import { useMay } from '../../desk/account-context.ts';
import { countryWords, dayWords } from '../../desk/words.ts';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { sourceLink } from '../links.ts';
import { useSources, useStewards } from './use-sources.ts';
import css from '../estate.module.css';

/** A system: who answers for it, where it stands, who works at it, and where its data lies. */
export function SystemSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<SystemContent>('system', id);
  const stewards = useStewards();
  const sources = useSources();
  const fixed = !useMay('holdings.sources');
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the system" />;
  const { content } = query.data;
  const set = (change: Partial<SystemContent>) => void save({ ...content, ...change }, 'Saved.');
  const text = (
    label: string,
    key: 'name' | 'about' | 'owner' | 'notes',
    none: string,
    most: number,
    long = false,
  ) => (
    <Slot
      label={label}
      words={content[key] || none}
      fixed={fixed}
      edit={{ kind: 'text', long, most, value: content[key], set: (value) => set({ [key]: value }) }}
    />
  );
  const mine = (sources.data?.rows ?? []).filter((s) => String(s.systemId) === id);
  const steward = stewards.data?.find((s) => s.id === content.steward);
  return (
    <>
      <SheetHead
        title={content.name}
        detail="A system: what the organisation runs that holds personal data"
      />
      <Sentence label="It">
        is called {text('Name', 'name', '', 120)} and is for{' '}
        {text('What it is for', 'about', 'nothing that was said yet', 2000, true)}.
      </Sentence>
      <Sentence label="Who">
        {text('Owner', 'owner', 'nobody yet', 120)} answers for it;{' '}
        <Slot
          label="Steward"
          words={steward?.name ?? (content.steward === null ? 'nobody yet' : '…')}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: String(content.steward ?? ''),
            options: [
              { value: '', words: 'nobody' },
              ...(stewards.data ?? []).map((s) => ({ value: String(s.id), words: s.name, detail: s.title })),
            ],
            set: (value) => set({ steward: value === '' ? null : Number(value) }),
          }}
        />{' '}
        looks after its data.
      </Sentence>
      <Sentence label="Where">
        It stands in{' '}
        <Slot
          label="Country"
          words={content.country === '' ? 'a country not known' : countryWords(content.country)}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 2,
            value: content.country,
            hint: 'Two letters of ISO 3166-1, such as DK; empty where it is not known.',
            check: (value) =>
              value === '' || /^[A-Z]{2}$/.test(value) ? '' : 'Two capital letters, such as DK.',
            set: (country) => set({ country }),
          }}
        />
        ;{' '}
        <Slot
          label="Vendors"
          words={content.vendors.length === 0 ? 'no vendor' : content.vendors.join(', ')}
          fixed={fixed}
          edit={{
            kind: 'text',
            long: true,
            most: 4000,
            value: content.vendors.join('\n'),
            hint: 'A vendor a line.',
            set: (value) =>
              set({
                vendors: value
                  .split('\n')
                  .map((v) => v.trim())
                  .filter(Boolean),
              }),
          }}
        />{' '}
        works at it.
      </Sentence>
      <Sentence label="Notes">{text('Notes', 'notes', 'none', 4000, true)}</Sentence>
      <h2 className={css['heading']}>Where its data lies</h2>
      {mine.length === 0 ? (
        <p>In no source that is taken in. A source says on its sheet which system it belongs to.</p>
      ) : (
        <table className={css['estimate']}>
          <thead>
            <tr>
              <th scope="col">Source</th>
              <th scope="col">Kind</th>
              <th scope="col">Read</th>
            </tr>
          </thead>
          <tbody>
            {mine.map((s) => (
              <tr key={s.id}>
                <td>
                  <a href={sourceLink(s.id)}>{s.name}</a>
                </td>
                <td>{SOURCE_KINDS[s.kind]}</td>
                <td>{s.readAt ? dayWords(s.readAt) : 'never'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
