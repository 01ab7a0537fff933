import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { peopleMargin } from '../../../core/holdings/items/distinct-people.ts';
import type * as judgementsApi from '../../../pages/api/holdings/judgements.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryString, request } from '../../desk/request.ts';
import { numberWords, percentWords } from '../../desk/words.ts';
import { Bars } from '../../parts/Bars.tsx';
import { Button } from '../../parts/Button.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { lensLink } from '../links.ts';
import { JudgeMany } from './JudgeMany.tsx';
import { useFigures, useLens, useLensVocabulary } from './use-lens.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { formLens } from '../../../core/holdings/lenses/lens-form.ts';

/** What the lens comes to: how much, about how many, where, how old, and whether it is right. */
export function LensSoundings() {
  const lens = useLens();
  const vocabulary = useLensVocabulary();
  const { data } = useFigures(lens);
  if (!data || !vocabulary || data.items === 0) return null;
  const name = (fact: string, value: string) => vocabulary.value(fact, value) ?? value;
  const { form, set } = lens;
  const unreadable = lensText(
    formLens({ ...form, rest: [...form.rest, { fact: 'state', is: 'one of', values: ['unreadable'] }] }),
  );
  const [source = '', ...steps] = form.place.split('/');
  const owner = form.rest.find((r) => 'fact' in r && r.fact === 'owner' && r.is === 'one of');
  const [chosen] = form.data;
  const margin = peopleMargin(data.people);
  return (
    <>
      <SoundingsSection title="Soundings · this lens">
        <FigureRow>
          <Figure value={numberWords(data.items)} words="items" />
          <Figure value={numberWords(data.people.people)} words={margin ? `people, ${margin}` : 'people'} />
          {data.unreadable > 0 && (
            <Figure
              value={numberWords(data.unreadable)}
              words="could not be read"
              mark
              href={lensLink(unreadable)}
            />
          )}
        </FigureRow>
      </SoundingsSection>
      <SoundingsSection title="By source">
        <Bars
          label="By source"
          bars={data.sources.map((s) => ({ key: s.value, name: name('place', s.value), count: s.count }))}
          chosen={steps.length === 0 ? source : undefined}
          onChoose={(key) => set({ place: form.place === key ? '' : key })}
        />
      </SoundingsSection>
      <SoundingsSection title="By year of the last change">
        <Bars
          label="By year of the last change"
          bars={data.years.map((y) => ({ key: y.value, name: y.value || 'not known', count: y.count }))}
          onChoose={(year) =>
            set({ age: '', rest: [...form.rest.filter((r) => !isYear(r)), yearLens(year)] })
          }
        />
      </SoundingsSection>
      {data.levels.some((l) => l.value !== '') && (
        <SoundingsSection title="By level">
          <Bars
            label="By level"
            bars={data.levels.map((l) => ({
              key: l.value,
              name: l.value === '' ? 'none yet' : name('level', l.value),
              count: l.count,
            }))}
            onChoose={(key) =>
              set({
                rest: [
                  ...form.rest.filter((r) => !('fact' in r && r.fact === 'level')),
                  key === ''
                    ? { fact: 'level', is: 'unknown' as const }
                    : { fact: 'level', is: 'one of' as const, values: [key] },
                ],
              })
            }
          />
        </SoundingsSection>
      )}
      {data.owners.some((o) => o.value !== '') && (
        <SoundingsSection title="By owner">
          <Bars
            label="By owner"
            bars={data.owners.map((o) => ({ key: o.value, name: o.value || 'not known', count: o.count }))}
            chosen={owner && 'values' in owner ? owner.values[0] : undefined}
            onChoose={(key) =>
              set({
                rest: [
                  ...form.rest.filter((r) => r !== owner),
                  ...(key === ''
                    ? [{ fact: 'owner', is: 'unknown' as const }]
                    : [{ fact: 'owner', is: 'one of' as const, values: [key] }]),
                ],
              })
            }
          />
        </SoundingsSection>
      )}
      {chosen && <IsItRight detector={chosen} name={name('data', chosen)} />}
    </>
  );
}

type Rest = ReturnType<typeof useLens>['form']['rest'][number];

function yearLens(year: string): Rest {
  if (year === '') return { fact: 'changed', is: 'unknown' };
  return {
    all: [
      { fact: 'changed', is: 'since', day: `${year}-01-01` },
      { fact: 'changed', is: 'before', day: `${Number(year) + 1}-01-01` },
    ],
  };
}

function isYear(lens: Rest): boolean {
  if ('fact' in lens) return lens.fact === 'changed' && lens.is === 'unknown';
  return 'all' in lens && lens.all.length === 2 && lens.all.every((l) => 'fact' in l && l.fact === 'changed');
}

/** How often people who looked said that it is right. */
function IsItRight({ detector, name }: { readonly detector: string; readonly name: string }) {
  const mayJudge = useMay('holdings.judge');
  const [judging, setJudging] = useState(false);
  const { data } = useQuery({
    queryKey: ['judgements', detector],
    queryFn: () =>
      request<AnswerOf<typeof judgementsApi.GET>>(
        'GET',
        `/api/holdings/judgements${queryString({ detector })}`,
      ),
  });
  if (!data) return null;
  return (
    <SoundingsSection title="Is it right?">
      <p>
        {data.interval ? (
          <>
            {name} is right in{' '}
            <b>
              {numberWords(data.right)} of {numberWords(data.judged)}
            </b>{' '}
            findings people judged: {percentWords(data.interval.share, 1)}, interval{' '}
            {percentWords(data.interval.low)} to {percentWords(data.interval.high)}.
          </>
        ) : (
          <>Nobody judged a finding of {name} yet. Open an item to begin.</>
        )}
      </p>
      {mayJudge && <Button onClick={() => setJudging(true)}>Judge many at once</Button>}
      {judging && <JudgeMany detector={detector} name={name} onClose={() => setJudging(false)} />}
    </SoundingsSection>
  );
}
