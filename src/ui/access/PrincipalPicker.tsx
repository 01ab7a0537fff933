import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type * as peopleApi from '../../pages/api/access/people/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { queryString, request } from '../desk/request.ts';
import css from './access.module.css';

/** Somebody, or a group, that was chosen. */
export interface Picked {
  readonly key: string;
  readonly name: string;
}

/** People and groups to choose from, one after the other: type a part of a name, and take one by arrow and Enter. */
export function PrincipalPicker({
  label,
  chosen,
  onChange,
  only,
  most = 100,
  error,
}: {
  readonly label: string;
  readonly chosen: readonly Picked[];
  readonly onChange: (chosen: readonly Picked[]) => void;
  readonly only?: 'person' | 'group';
  readonly most?: number;
  readonly error?: string | undefined;
}) {
  const [typed, setTyped] = useState('');
  const text = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: ['access-people', 'pick', text, only ?? ''],
    enabled: text !== '',
    queryFn: () =>
      request<AnswerOf<typeof peopleApi.GET>>(
        'GET',
        `/api/access/people${queryString({ text, kind: only === 'group' ? 'group' : undefined })}`,
      ),
  });
  const rows = (found.data?.rows ?? [])
    .filter((r) => (only === undefined || r.is === only) && !chosen.some((c) => c.key === r.key))
    .slice(0, 8);
  const take = (r: Picked) => {
    onChange([...chosen.slice(0, most - 1), { key: r.key, name: r.name }]);
    setTyped('');
  };
  return (
    <div data-wrong={error ? true : undefined}>
      {chosen.length > 0 && (
        <ul className={css['picked']} aria-label={`${label}: chosen`}>
          {chosen.map((c) => (
            <li key={c.key}>
              {c.name}
              <button
                type="button"
                aria-label={`Take ${c.name} out`}
                onClick={() => onChange(chosen.filter((o) => o.key !== c.key))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      {chosen.length < most && (
        <label>
          {label}
          <br />
          <input
            type="search"
            value={typed}
            placeholder="Type a part of a name"
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              e.preventDefault();
              if (rows[0]) take(rows[0]);
            }}
          />
        </label>
      )}
      {text !== '' && (
        <ul className={css['found']} aria-label={`${label}: found`}>
          {rows.map((r) => (
            <li key={r.key}>
              <button type="button" onClick={() => take(r)}>
                {r.name} <small>{r.detail}</small>
              </button>
            </li>
          ))}
          {found.data && rows.length === 0 && <li>Nobody is called so.</li>}
        </ul>
      )}
      {error && <p role="alert">◆ {error}</p>}
    </div>
  );
}
