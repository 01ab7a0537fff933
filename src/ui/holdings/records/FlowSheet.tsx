import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { flowsThrough, type FlowKind, type FlowNode } from '../../../core/holdings/records/data-flows.ts';
import type * as flowsApi from '../../../pages/api/holdings/activities/flows.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { countryWords, countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { ChartHead } from '../../parts/ChartHead.tsx';
import { FlowMap } from '../../parts/FlowMap.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { activityLink, systemLink } from '../links.ts';
import css from '../estate.module.css';

const COLUMNS: readonly FlowKind[] = ['people', 'system', 'recipient', 'country'];
const HEADS = ['Whose data', 'Systems', 'Vendors and recipients', 'Countries'];

/** Who gives what to whom, across systems, vendors and countries; as a map, and as a table. */
export function FlowSheet() {
  const { query } = useDeskLocation();
  const [asTable, setAsTable] = useState(false);
  const flows = useQuery({
    queryKey: ['flows'],
    queryFn: () => request<AnswerOf<typeof flowsApi.GET>>('GET', '/api/holdings/activities/flows'),
  });
  if (flows.isError && !flows.data)
    return <Failure error={flows.error} onRetry={() => void flows.refetch()} />;
  if (!flows.data) return <Loading what="who gives what to whom" />;
  const { data } = flows;
  const asked = query.get('node') ?? '';
  const chosen = data.nodes.find((n) => n.id === asked);
  const shown = chosen ? flowsThrough(data, chosen.id) : data.flows;
  const touched = new Set(shown.flatMap((f) => [f.from, f.to]));
  const nodes = data.nodes.filter((n) => touched.has(n.id));
  const byId = new Map(data.nodes.map((n) => [n.id, n]));
  const kinds = (ids: readonly string[]) => ids.map((d) => data.data[d] ?? d);
  const unlawful = shown.filter((f) => f.unlawful).length;
  if (data.flows.length === 0) return <p>No record says yet whose data it is, or in which system.</p>;
  return (
    <figure style={{ margin: 0 }}>
      <ChartHead
        label={chosen ? `What flows from and to ${nodeWords(chosen)}` : 'Who gives what to whom'}
        drawn="a map"
        asTable={asTable}
        onTable={setAsTable}
      />
      <p className={css['note']}>
        {countWords(shown.length, 'flow')} by the records; a band is as wide as the kinds of data in it.
        {unlawful > 0 && (
          <span className={css['mark']}>
            {' '}
            ◆ {countWords(unlawful, 'flow')} to a third country without a safeguard.
          </span>
        )}{' '}
        {chosen && (
          <Button kind="quiet" onClick={() => setQuery({ node: null })}>
            Show all
          </Button>
        )}
      </p>
      {asTable ? (
        <table className={css['estimate']}>
          <thead>
            <tr>
              <th scope="col">From</th>
              <th scope="col">To</th>
              <th scope="col">Kinds of data</th>
              <th scope="col">Activities</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((f) => (
              <tr key={`${f.from} ${f.to}`}>
                <td>
                  <NodeName node={byId.get(f.from)} />
                </td>
                <td>
                  <NodeName node={byId.get(f.to)} />
                  {f.unlawful && <div className={css['mark']}>◆ no safeguard, Art. 44 to 46</div>}
                </td>
                <td>{kinds(f.data).join(', ') || 'none named'}</td>
                <td>
                  {f.activities.map((a, i) => (
                    <span key={a}>
                      {i > 0 && ', '}
                      <a href={activityLink(a)}>{data.activities[a] ?? 'an activity'}</a>
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <FlowMap
          label="Who gives what to whom"
          columns={HEADS}
          points={nodes.map((n) => ({ id: n.id, name: nodeWords(n), column: COLUMNS.indexOf(n.kind) }))}
          flows={shown.map((f) => ({
            from: f.from,
            to: f.to,
            size: Math.max(1, f.data.length),
            mark: f.unlawful,
            words: `${nodeWords(byId.get(f.from))} to ${nodeWords(byId.get(f.to))}: ${kinds(f.data).join(', ') || 'no kind of data named'}${f.unlawful ? '; no safeguard' : ''}`,
          }))}
          chosen={chosen?.id}
          onChoose={(id) => setQuery({ node: id === chosen?.id ? null : id })}
        />
      )}
    </figure>
  );
}

function nodeWords(node: FlowNode | undefined): string {
  if (!node) return '';
  return node.kind === 'country' ? countryWords(node.name) : node.name;
}

function NodeName({ node }: { readonly node: FlowNode | undefined }) {
  return node?.system === undefined ? nodeWords(node) : <a href={systemLink(node.system)}>{node.name}</a>;
}
