import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type * as searchApi from '../../../pages/api/access/places/search.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { Tree } from '../../parts/Tree.tsx';
import { placeLink } from '../links.ts';
import { loadPlaces, usePlace, usePlaces } from '../use-access.ts';
import { placeTreeNode } from './place-node.ts';
import css from '../access.module.css';

/** All places as they lie in each other, and those whose name holds what is typed. */
export function PlaceRegister({ chosen }: { readonly chosen: string | undefined }) {
  const [typed, setTyped] = useState('');
  const text = useDeferredValue(typed.trim());
  return (
    <div className={css['register']}>
      <input
        type="search"
        data-register-filter
        aria-label="Find a place"
        placeholder="Find a place"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      {text === '' ? <PlaceTree chosen={chosen} /> : <FoundPlaces text={text} chosen={chosen} />}
    </div>
  );
}

function PlaceTree({ chosen }: { readonly chosen: string | undefined }) {
  const roots = usePlaces();
  const place = usePlace(chosen ?? '');
  if (roots.isError && !roots.data)
    return <Failure error={roots.error} onRetry={() => void roots.refetch()} />;
  if (!roots.data) return <Loading what="the places" />;
  if (roots.data.length === 0) return <p className={css['note']}>No place is known yet.</p>;
  const path = chosen === undefined ? [] : (place.data?.path ?? []).map((p) => p.key);
  return (
    <div className={css['tree']}>
      <Tree
        label="Places"
        roots={roots.data.map(placeTreeNode)}
        load={async (key) => (await loadPlaces(key)).map(placeTreeNode)}
        chosen={chosen}
        reveal={path}
        height={560}
        onChoose={(node) => go(placeLink(node.id))}
      />
    </div>
  );
}

function FoundPlaces({ text, chosen }: { readonly text: string; readonly chosen: string | undefined }) {
  const found = useQuery({
    queryKey: ['access-places', 'search', text],
    queryFn: () =>
      request<AnswerOf<typeof searchApi.GET>>('GET', `/api/access/places/search${queryString({ text })}`),
  });
  if (found.isError) return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the places" />;
  if (found.data.length === 0) return <p className={css['note']}>No place is called so.</p>;
  return (
    <ul className={css['found']}>
      {found.data.map((p) => (
        <li key={p.key}>
          <a href={placeLink(p.key)} aria-current={p.key === chosen ? 'true' : undefined}>
            {p.name}
            <small>{p.path}</small>
          </a>
        </li>
      ))}
    </ul>
  );
}
