import {
  BASES,
  SAFEGUARDS,
  SPECIAL_BASES,
  type ActivityContent,
  type Recipient,
} from '../../../core/holdings/records/activity.ts';
import { recipientOf, recipientText } from '../../../core/holdings/records/activity-table.ts';
import { parseDay } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { countryWords, dateWords } from '../../desk/words.ts';
import type { Option } from '../../parts/ChoiceEditor.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot, type SlotKind } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { PastVersions } from '../../rules/PastEdits.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { useItemNames } from '../explorer/use-lens.ts';
import { useSystems } from '../sources/use-sources.ts';
import { ContradictionList } from './ContradictionList.tsx';
import { useContradictions } from './use-records.ts';
import css from '../estate.module.css';

const optionsOf = (words: Readonly<Record<string, string>>): readonly Option[] =>
  Object.entries(words).map(([value, text]) => ({ value, words: text }));

/** One record of processing as sentences, and what contradicts it. */
export function ActivitySheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<ActivityContent>('activity', id);
  const names = useItemNames();
  const systems = useSystems();
  const { data: all = [] } = useContradictions();
  const fixed = !useMay('holdings.records');
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data || !names) return <Loading what="the record" />;
  const { content } = query.data;
  const set = (change: Partial<ActivityContent>) => void save({ ...content, ...change }, 'Saved.');
  const slot = (label: string, words: string, edit: SlotKind) => (
    <Slot label={label} words={words} fixed={fixed} edit={edit} />
  );
  const text = (
    label: string,
    key: 'purpose' | 'offences' | 'retention' | 'measures' | 'owner',
    none: string,
    most: number,
  ) =>
    slot(label, content[key] || none, {
      kind: 'text',
      long: most > 400,
      most,
      value: content[key],
      set: (value) => set({ [key]: value }),
    });
  const systemOptions = (systems.data?.rows ?? []).map((s) => ({ value: String(s.id), words: s.name }));
  const found = all.filter(
    (c) => c.activity === id || (c.system !== undefined && content.systems.includes(c.system)),
  );
  return (
    <>
      <SheetHead
        title={slot('Name', content.name, {
          kind: 'text',
          most: 160,
          value: content.name,
          set: (name) => set({ name }),
        })}
        detail={content.role === 'controller' ? 'As controller, Art. 30(1)' : 'As processor, Art. 30(2)'}
      />
      {found.length > 0 && <ContradictionList found={found} />}
      <Sentence label="Why">
        To {text('Purpose', 'purpose', 'do what was not said yet', 2000)}, on the basis of{' '}
        {slot('Legal basis', BASES[content.basis], {
          kind: 'choice',
          value: content.basis,
          options: optionsOf(BASES),
          set: (basis) => set({ basis: basis as ActivityContent['basis'] }),
        })}
        .
      </Sentence>
      <Sentence label="Special">
        Special categories rest on{' '}
        {slot('Reason of Art. 9', SPECIAL_BASES[content.special], {
          kind: 'choice',
          value: content.special,
          options: optionsOf(SPECIAL_BASES),
          set: (special) => set({ special: special as ActivityContent['special'] }),
        })}
        , data on offences on {text('Law on offences', 'offences', 'no law', 200)}.
      </Sentence>
      <Sentence label="Whose">
        {slot('Whose data', content.people.join(', ') || 'nobody said yet', {
          kind: 'text',
          long: true,
          most: 4000,
          value: content.people.join('\n'),
          hint: 'A kind of people a line: passengers, crew.',
          set: (value) => set({ people: linesOf(value) }),
        })}
        :{' '}
        {slot(
          'Kinds of data',
          wordsOf(content.data, (d) => names.detectors.get(d) ?? d, 'no kind of data yet'),
          {
            kind: 'many',
            value: content.data,
            options: [...names.detectors].map(([value, words]) => ({ value, words })),
            set: (data) => set({ data: [...data] }),
          },
        )}
        .
      </Sentence>
      <Sentence label="Where">
        In{' '}
        {slot(
          'Systems',
          wordsOf(
            content.systems,
            (s) => systemOptions.find((o) => o.value === s)?.words ?? '…',
            'no system yet',
          ),
          {
            kind: 'many',
            value: content.systems,
            options: systemOptions,
            set: (chosen) => set({ systems: [...chosen] }),
          },
        )}
        , given to{' '}
        {slot('Recipients', content.recipients.map(recipientWords).join('; ') || 'nobody', {
          kind: 'text',
          long: true,
          most: 8000,
          value: content.recipients.map(recipientText).join('\n'),
          hint: `A recipient a line: name | country | safeguard, such as Lookwell Ltd | US | standard clauses. Safeguards: ${Object.keys(
            SAFEGUARDS,
          )
            .filter((s) => s !== 'none')
            .join(', ')}.`,
          check: (value) =>
            recipientsOf(value) ? '' : 'A line reads name | two letters of a country | safeguard.',
          set: (value) => set({ recipients: recipientsOf(value) ?? content.recipients }),
        })}
        .
      </Sentence>
      <Sentence label="How long">
        Kept {text('How long', 'retention', 'as long as was not said yet', 400)}; protected by{' '}
        {text('Measures', 'measures', 'measures not said yet', 2000)}.
      </Sentence>
      <Sentence label="Who">
        {text('Owner', 'owner', 'Nobody', 120)} answers for it, and looks at it again{' '}
        {slot('Next review', content.review ? `on ${dateWords(content.review)}` : 'on no day yet', {
          kind: 'text',
          most: 20,
          value: content.review,
          hint: 'A day such as 20 Nov 2026; empty for none.',
          check: (value) => (value.trim() === '' || parseDay(value) ? '' : 'A day such as 20 Nov 2026.'),
          set: (value) => set({ review: parseDay(value) ?? '' }),
        })}
        .
      </Sentence>
      {found.length === 0 && <p className={css['note']}>Nothing that was found contradicts it.</p>}
      <PastVersions<ActivityContent>
        kind="activity"
        id={id}
        revision={query.data.revision}
        put={fixed ? undefined : save}
      />
    </>
  );
}

function linesOf(value: string): string[] {
  return value
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
}

function wordsOf(ids: readonly string[], nameOf: (id: string) => string, none: string): string {
  return ids.length === 0 ? none : ids.map(nameOf).join(', ');
}

function recipientWords({ name, country, safeguard }: Recipient): string {
  if (country === '') return name;
  return `${name} in ${countryWords(country)}${safeguard === 'none' ? '' : ` (${safeguard})`}`;
}

/** Recipients as they are typed; `undefined` where a line cannot be read. */
export function recipientsOf(value: string): Recipient[] | undefined {
  const all = linesOf(value).map(recipientOf);
  return all.includes(undefined) ? undefined : (all as Recipient[]);
}
