import type { ListedSurvey } from '../../../server/holdings/surveys/surveys.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { runStateWords } from '../../runs/run-words.ts';
import { surveyLink } from '../links.ts';
import { useSurveys } from './use-surveys.ts';

export function SurveyRegister({ chosen }: { readonly chosen: string | undefined }) {
  const { query, rows, paged } = useSurveys();
  const mayStart = useMay('holdings.survey');
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  return (
    <RegisterList
      what="surveys"
      rows={rows.map((s) => ({ id: String(s.id), name: s.name, detail: detail(s), href: surveyLink(s.id) }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      paged={paged}
      action={mayStart && <Button onClick={() => setQuery({ new: 'survey' }, 'push')}>New</Button>}
      empty={
        query.isPending ? 'Loading …' : 'Press New to say what is to be read; what it takes is told first.'
      }
    />
  );
}

function detail(s: ListedSurvey): string {
  const of = countWords(s.sources.length, 'source');
  if (s.state === null) return `${of} · not estimated`;
  if (s.state === 'done') return `${of} · done ${s.endedAt ? dayWords(s.endedAt) : ''}`;
  return `${of} · ${runStateWords(s.state, 'reading now')}`;
}
