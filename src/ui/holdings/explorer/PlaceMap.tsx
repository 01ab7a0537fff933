import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { LensVocabulary } from '../../../core/lens/fact.ts';
import type * as placesApi from '../../../pages/api/holdings/items/places.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { TreeMap } from '../../parts/TreeMap.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { onlyChanged, type LookedLens } from './use-lens.ts';
import css from '../estate.module.css';

/** Where the items of a lens lie, as areas: choosing one looks into it. */
export function PlaceMap({
  lens,
  vocabulary,
}: {
  readonly lens: LookedLens;
  readonly vocabulary: LensVocabulary;
}) {
  const [by, setBy] = useState<'items' | 'people'>('items');
  const above = lens.form.place;
  const places = useQuery({
    queryKey: ['items', 'places', lens.line, above, onlyChanged(lens.compared)],
    queryFn: () =>
      request<AnswerOf<typeof placesApi.GET>>(
        'GET',
        `/api/holdings/items/places${queryString({ lens: lens.line, above, ...onlyChanged(lens.compared) })}`,
      ),
  });
  if (places.isError) return <Failure error={places.error} onRetry={() => void places.refetch()} />;
  if (!places.data) return <Loading what="places" />;
  const nameOf = (place: string) => vocabulary.value('place', place) ?? place;
  return (
    <>
      <p className={css['note']}>
        <Segments
          label="As large as"
          value={by}
          options={[
            { value: 'items', words: 'By items' },
            { value: 'people', words: 'By people' },
          ]}
          onChange={(value) => setBy(value as typeof by)}
        />{' '}
        {above !== '' && (
          <Button
            kind="quiet"
            onClick={() => lens.set({ place: above.includes('/') ? above.replace(/\/[^/]*$/, '') : '' })}
          >
            Up from {nameOf(above)}
          </Button>
        )}
      </p>
      <TreeMap
        label={above === '' ? 'Where the items lie' : `What lies in ${nameOf(above)}`}
        root={{
          id: '',
          name: '',
          children: places.data.map((p) => ({
            id: p.value,
            name: above === '' ? nameOf(p.value) : p.name,
            size: by === 'items' ? p.items : p.people,
          })),
        }}
        words={(n) => (by === 'items' ? countWords(n, 'item') : `${numberWords(n)} people`)}
        onChoose={(place) => lens.set({ place })}
      />
    </>
  );
}
