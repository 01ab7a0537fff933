import { useQuery } from '@tanstack/react-query';
import type { LensVocabulary } from '../../../core/lens/fact.ts';
import type * as compareApi from '../../../pages/api/holdings/items/compare.ts';
import type * as daysApi from '../../../pages/api/holdings/items/days.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dateWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import type { LookedLens } from './use-lens.ts';
import { lensLink } from '../links.ts';
import css from '../estate.module.css';

/** Kinds that are told; beyond these hardly anything differs. */
const SHOWN = 8;

/** A lens on two days: what came, what left, and which kinds grew; every number opens to its items. */
export function CompareLens({
  lens,
  vocabulary,
  onClose,
}: {
  readonly lens: LookedLens;
  readonly vocabulary: LensVocabulary;
  readonly onClose: () => void;
}) {
  const { since = '', until = '', which } = lens.compared;
  const days = useQuery({
    queryKey: ['items', 'days', lens.line],
    queryFn: () =>
      request<AnswerOf<typeof daysApi.GET>>(
        'GET',
        `/api/holdings/items/days${queryString({ lens: lens.line })}`,
      ),
  });
  if (days.isError) return <Failure error={days.error} onRetry={() => void days.refetch()} />;
  if (!days.data) return <Loading what="the days that are kept" />;
  if (days.data.length === 0)
    return (
      <p className={css['note']}>
        What is in a lens is kept once a day, of those with a name and of everything. Of this one no day is
        kept yet{lens.line === 'everything' ? '.' : '; keep it under a name to compare it from then on.'}
      </p>
    );
  const option = (day: string) => ({ value: day, words: dateWords(day) });
  return (
    <section aria-label="Compared" className={css['compare']}>
      <p>
        Compared with{' '}
        <SelectField
          label="Compared with"
          value={since}
          options={[
            { value: '', words: 'choose a day' },
            ...days.data.filter((d) => until === '' || d < until).map(option),
          ]}
          onChange={(value) => setQuery({ since: value, which: null })}
        />{' '}
        until{' '}
        <SelectField
          label="Until"
          value={until}
          options={[{ value: '', words: 'now' }, ...days.data.filter((d) => d > since).map(option)]}
          onChange={(value) => setQuery({ until: value || null, which: null })}
        />{' '}
        <Button
          kind="quiet"
          onClick={() => {
            setQuery({ since: null, until: null, which: null });
            onClose();
          }}
        >
          Compare no more
        </Button>
      </p>
      {since !== '' && (
        <Differences lens={lens} vocabulary={vocabulary} since={since} until={until} which={which} />
      )}
    </section>
  );
}

function Differences({
  lens,
  vocabulary,
  since,
  until,
  which,
}: {
  readonly lens: LookedLens;
  readonly vocabulary: LensVocabulary;
  readonly since: string;
  readonly until: string;
  readonly which: 'came' | 'left' | undefined;
}) {
  const found = useQuery({
    queryKey: ['items', 'compare', lens.line, since, until],
    queryFn: () =>
      request<AnswerOf<typeof compareApi.GET>>(
        'GET',
        `/api/holdings/items/compare${queryString({ lens: lens.line, since, until })}`,
      ),
  });
  if (found.isError) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="both days" />;
  const { then, now, came, left, gone, data, documents } = found.data;
  const open = (what: 'came' | 'left', n: number, words: string) =>
    n === 0 ? (
      `none ${words}`
    ) : (
      <a
        href={lensLink(lens.line, { since, until, which: which === what ? undefined : what })}
        aria-current={which === what || undefined}
      >
        {numberWords(n)} {words}
      </a>
    );
  const rows = [
    ...documents.map((d) => ({
      ...d,
      name: d.value === '' ? 'no known kind' : (vocabulary.value('document', d.value) ?? d.value),
      key: `document ${d.value}`,
    })),
    // What kind of document something is stands above already.
    ...data
      .filter((d) => !documents.some((k) => k.value === d.value))
      .map((d) => ({
        ...d,
        name: vocabulary.value('data', d.value) ?? d.value,
        key: `data ${d.value}`,
      })),
  ];
  return (
    <>
      <p>
        {countWords(then.items, 'item')} then, <b>{numberWords(now.items)}</b>{' '}
        {until === '' ? 'now' : `on ${dateWords(until)}`}: {open('came', came, 'came')},{' '}
        {open('left', left, 'left the lens')}, {gone === 0 ? 'none' : numberWords(gone)} held no more.{' '}
        {numberWords(then.people)} people then, {numberWords(now.people)} after.
      </p>
      {rows.length > 0 && (
        <table className={css['estimate']}>
          <thead>
            <tr>
              <th scope="col">What differs</th>
              <th scope="col" className={css['number']}>
                Then
              </th>
              <th scope="col" className={css['number']}>
                After
              </th>
              <th scope="col" className={css['number']}>
                Difference
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, SHOWN).map((r) => (
              <tr key={r.key}>
                <td>{r.name}</td>
                <td className={css['number']}>{numberWords(r.then)}</td>
                <td className={css['number']}>{numberWords(r.now)}</td>
                <td className={css['number']}>
                  {r.now > r.then ? '+' : '−'}
                  {numberWords(Math.abs(r.now - r.then))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {which && (
        <p className={css['note']}>
          Below stand only those that {which === 'came' ? 'came' : 'left'}.{' '}
          <Button kind="quiet" onClick={() => setQuery({ which: null })}>
            Show all in the lens
          </Button>
        </p>
      )}
    </>
  );
}
