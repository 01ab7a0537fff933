import { useQuery } from '@tanstack/react-query';
import type { LensVocabulary } from '../../../core/lens/fact.ts';
import type * as placesApi from '../../../pages/api/holdings/items/places.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Tree } from '../../parts/Tree.tsx';
import type { TreeNode } from '../../parts/tree-rows.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { onlyChanged, type LookedLens } from './use-lens.ts';

/** Where the items of a lens lie: sources, and the places in them as they are opened. */
export function PlaceTree({
  lens,
  vocabulary,
}: {
  readonly lens: LookedLens;
  readonly vocabulary: LensVocabulary;
}) {
  const load = async (above: string): Promise<readonly TreeNode[]> => {
    const below = await request<AnswerOf<typeof placesApi.GET>>(
      'GET',
      `/api/holdings/items/places${queryString({ lens: lens.line, above, ...onlyChanged(lens.compared) })}`,
    );
    return below.map((p) => ({
      id: p.value,
      name: above === '' ? (vocabulary.value('place', p.value) ?? p.name) : p.name,
      figure: `${countWords(p.items, 'item')} · ${numberWords(p.people)} people`,
      opens: p.opens,
    }));
  };
  const roots = useQuery({
    queryKey: ['items', 'places', lens.line, onlyChanged(lens.compared)],
    queryFn: () => load(''),
  });
  if (roots.isError) return <Failure error={roots.error} onRetry={() => void roots.refetch()} />;
  if (!roots.data) return <Loading what="places" />;
  return (
    <Tree
      key={lens.line}
      label="Where the items lie"
      roots={roots.data}
      load={load}
      chosen={lens.form.place || undefined}
      onChoose={(node) => lens.set({ place: node.id === lens.form.place ? '' : node.id })}
    />
  );
}
