import { useQuery } from '@tanstack/react-query';
import type * as whoApi from '../../../pages/api/access/places/[key]/who.ts';
import type { PlaceSheet } from '../../../server/access/place-sheet.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, timeWords, dateWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useLensVocabulary } from '../../holdings/offers.ts';
import { placeLink } from '../links.ts';
import { PairWays } from '../PairWays.tsx';
import { usePair, usePlace } from '../use-access.ts';
import css from '../access.module.css';

/** How a place came to be as open as it is, how the person at hand comes to it, and what is exposed by it. */
export function PlaceSoundings({ id, on }: { readonly id: string; readonly on: string | undefined }) {
  const { query } = useDeskLocation();
  const place = usePlace(id, on);
  const asked = query.get('person') ?? undefined;
  const first = useQuery({
    queryKey: ['access-who', id, 'first', on ?? ''],
    enabled: asked === undefined,
    queryFn: () =>
      request<AnswerOf<typeof whoApi.GET>>(
        'GET',
        `/api/access/places/${id}/who${queryString({ on, size: '1' })}`,
      ),
  });
  const person = asked ?? first.data?.rows[0]?.key;
  const pair = usePair(person, id, on);
  if (place.isError && !place.data) return <Failure error={place.error} />;
  if (place.data?.key !== id) return <Loading what="the place" />;
  const p = place.data;
  return (
    <>
      <SoundingsSection title={p.name}>
        <FigureRow>
          <Figure
            value={numberWords(p.people)}
            words={p.people === 1 ? 'person reaches it' : 'people reach it'}
            mark={p.rank !== null && p.rank.rank <= 10 && p.people > 20}
          />
          {p.usesKnown && <Figure value={numberWords(p.used)} words="used it in 90 days" />}
        </FigureRow>
        {(p.leavers > 0 || p.guests > 0) && (
          <p className={css['mark']}>
            ◆{' '}
            {[
              ...(p.leavers > 0 ? [`${p.leavers} of them left`] : []),
              ...(p.guests > 0 ? [countWords(p.guests, 'guest')] : []),
            ].join(', ')}
          </p>
        )}
      </SoundingsSection>
      {on === undefined && (
        <SoundingsSection title="How it came to this">
          <History place={p} />
        </SoundingsSection>
      )}
      {pair.data && (
        <SoundingsSection
          title={`${pair.data.person.name} ${pair.data.found.strength === null ? 'does not reach it' : 'reaches it because'}`}
        >
          <PairWays pair={pair.data} />
        </SoundingsSection>
      )}
      <SoundingsSection title="What is exposed">
        <Exposed place={p} />
      </SoundingsSection>
      {on === undefined && (
        <SoundingsSection title="Watched">
          <Watched place={p} />
        </SoundingsSection>
      )}
    </>
  );
}

function History({ place: p }: { readonly place: PlaceSheet }) {
  return (
    <>
      {p.events.length === 0 ? (
        <p className={css['note']}>Nothing was given or taken away here as long as changes are kept.</p>
      ) : (
        <ul className={css['history']}>
          {p.events.toReversed().map((e) => (
            <li key={e.id}>
              <b>
                {dateWords(e.at)} {timeWords(e.at)}
              </b>{' '}
              {e.act === 'add' ? '+ ' : e.act === 'take' ? '− ' : ''}
              {e.words}
              {e.place && e.place.key !== p.key && ` at ${e.place.name}`}
              {e.initiator && <span className={css['dim']}>, {e.initiator}</span>}
            </li>
          ))}
        </ul>
      )}
      <p>
        as it was on{' '}
        <Slot
          label="A past day"
          words="a past day"
          edit={{ kind: 'date', value: '', set: (day) => setQuery({ on: day, tab: null }) }}
        />
      </p>
    </>
  );
}

function Exposed({ place: p }: { readonly place: PlaceSheet }) {
  const vocabulary = useLensVocabulary();
  if (p.exposure === null)
    return <p className={css['note']}>What lies here is not known: no source of Holdings is named for it.</p>;
  const kinds = p.exposure.data
    .slice(0, 4)
    .map((d) => `${numberWords(d.count)} with ${vocabulary?.value('data', d.value) ?? d.value}`);
  return (
    <>
      <p>
        {[countWords(p.exposure.items, 'item'), ...kinds].join(' · ')} · {numberWords(p.exposure.people)}{' '}
        people, {numberWords(p.exposure.sensitive)} of them with sensitive data
      </p>
      {p.rank ? (
        <p className={css['note']}>
          {numberWords(p.rank.counts['reach'] ?? 0)} people who can read it −{' '}
          {numberWords(p.rank.counts['used'] ?? 0)} who used it, ×{' '}
          {numberWords(p.rank.counts['sensitive'] ?? 0)} with sensitive data right here: rank {p.rank.rank} of{' '}
          {numberWords(p.rank.of)}
        </p>
      ) : (
        <p className={css['note']}>
          It is not among the places that are weighed: nothing of its own is granted or exposed here.
        </p>
      )}
    </>
  );
}

function Watched({ place: p }: { readonly place: PlaceSheet }) {
  const mayChange = useMay('access.change');
  const set = async (days: string) => {
    try {
      await request('PUT', `/api/access/places/${p.key}/watch`, {
        days: days === 'above' ? null : Number(days),
      });
    } catch (error) {
      tellFailure(error);
    }
  };
  const { days, at } = p.watch;
  return (
    <p>
      Changes are kept for{' '}
      <Slot
        label="Days that changes are kept"
        words={days === null ? 'no days' : `${days} days`}
        fixed={!mayChange}
        edit={{
          kind: 'choice',
          value: at === null ? String(days ?? 0) : 'above',
          options: [
            ...(p.path.length > 0 ? [{ value: 'above', words: 'as above it' }] : []),
            { value: '0', words: 'no days' },
            ...[30, 90, 400, 1100].map((n) => ({ value: String(n), words: `${n} days` })),
          ],
          set: (value) => void set(value),
        }}
      />
      {at !== null && (
        <>
          , as <a href={placeLink(at.key)}>{at.name}</a> says
        </>
      )}
      .
    </p>
  );
}
