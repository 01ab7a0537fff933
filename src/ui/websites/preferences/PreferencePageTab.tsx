import { useQuery } from '@tanstack/react-query';
import { PreferencePage } from '../../../core/websites/preferences/preference-page.ts';
import {
  preferenceSentence,
  preferenceVocabulary,
} from '../../../core/websites/preferences/preference-sentence.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';

/** What people are asked, in every language that the page speaks. */
export function PreferencePageTab() {
  const page = useQuery({
    queryKey: ['preference-page'],
    queryFn: () => request<RuleView<PreferencePage>>('GET', '/api/rules/preference%20page/1'),
  });
  if (page.isError && !page.data) return <Failure error={page.error} onRetry={() => void page.refetch()} />;
  if (!page.data) return <Loading what="the page" />;
  return (
    <SentenceSheet
      rule={page.data}
      schema={PreferencePage}
      sentence={preferenceSentence}
      vocabulary={preferenceVocabulary()}
      detail={(c) =>
        `writes to people · ${countWords(c.topics.length, 'topic')} in ${countWords(c.languages.length, 'language')}`
      }
      means={{
        draft: 'nobody is asked',
        rehearsing: 'people are asked by the version before it',
        inForce: 'people are asked so on their own page',
        stopped: 'nobody can choose; everybody can still leave',
      }}
      done={{
        rehearse: 'Rehearsing: people see what was in force before.',
        'end rehearsal': 'The rehearsal is over.',
        'put in force': 'In force: people are asked so from now on. What they chose before stands.',
        pause: 'Paused: nobody can choose, and everybody can still leave.',
        resume: 'In force again.',
        retire: 'Retired: nobody can choose, and everybody can still leave.',
        reopen: 'A draft again.',
      }}
      acts={{ rehearse: null }}
      edit="preferences.edit"
      force="websites.put-in-force"
      list="/websites/preferences"
    />
  );
}
