import { z } from 'zod';
import type * as resultsApi from '../../../pages/api/runs/[id]/results.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { DataTable } from '../../parts/DataTable.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { useDetectorName } from '../detection/detectors/use-detectors.ts';
import { itemLink } from '../links.ts';
import css from '../estate.module.css';

const Result = z.discriminatedUnion('is', [
  z.object({ is: z.literal('unreadable'), path: z.string(), why: z.string() }),
  z.object({
    is: z.literal('changed'),
    path: z.string(),
    item: z.number(),
    detector: z.string(),
    rehearsed: z.boolean(),
    was: z.number(),
    now: z.number(),
  }),
]);
type Result = z.infer<typeof Result>;

/** What a person has to know of a survey: what could not be read, and what detectors that changed gained and lost. */
export function SurveyResults({ run, over }: { readonly run: string; readonly over: boolean }) {
  const nameOf = useDetectorName();
  return (
    <>
      <DataTable<{ key: string; result: Result }>
        label="What came of the survey"
        name="survey-results"
        filters={<h2 className={css['heading']}>What came of it</h2>}
        columns={[
          {
            key: 'path',
            title: 'Item',
            fills: true,
            cell: ({ result }) => (
              <span className={css['name']} title={result.path}>
                {result.path}
              </span>
            ),
          },
          {
            key: 'what',
            title: 'What is to be known',
            width: '60%',
            cell: ({ result }) =>
              result.is === 'unreadable' ? (
                <span className={css['mark']}>◆ {result.why}</span>
              ) : (
                <>
                  {nameOf(result.detector)}: {result.was} before, {result.now} now{' '}
                  {result.rehearsed && <StageTag state="rehearsing" />}
                </>
              ),
          },
        ]}
        queryKey={['survey-results', run, over]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof resultsApi.GET>>(
            'GET',
            `/api/runs/${run}/results${queryString({ after })}`,
          );
          return {
            next: page.next,
            rows: page.rows.map((r) => ({
              key: `${r.position} ${r.number}`,
              result: Result.parse(r.content),
            })),
          };
        }}
        rowKey={(r) => r.key}
        rowName={(r) => r.result.path}
        onOpen={({ result }) => result.is === 'changed' && go(itemLink(String(result.item), 'everything'))}
        empty={
          <p>
            {over
              ? 'Everything could be read, and no detector says anything else than before.'
              : 'Nothing that needs you so far.'}
          </p>
        }
      />
    </>
  );
}
