import {
  PublicationContent,
  publicationSentence,
  publicationVocabulary,
} from '../../../core/protection/publishing/publication.ts';
import type { Act } from '../../../core/rules/rule.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { PUBLISHED } from '../links.ts';
import { usePublication, usePublicationNames } from '../use-publishing.ts';

/** Who is offered which levels. */
export function PublicationSheet({ id }: { readonly id: string }) {
  const rule = usePublication(id);
  const names = usePublicationNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names.data) return <Loading what="the publication" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={PublicationContent}
      sentence={publicationSentence(names.data)}
      vocabulary={publicationVocabulary(names.data)}
      detail={() =>
        'Levels of all publications that are for somebody are offered to them; the nearest says in what order'
      }
      means={{
        draft: 'nobody is offered anything by it',
        rehearsing: 'counted, and nobody is offered anything by it',
        inForce: 'people choose from it in their programs',
        stopped: 'nobody is offered anything by it; what carries a level keeps it',
      }}
      done={DONE_WORDS}
      edit="protection.edit"
      force="protection.put-in-force"
      list={PUBLISHED}
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it is counted, and nobody sees it.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: people are offered these levels when they next ask for them.',
  pause: 'Paused: nobody is offered these levels by it.',
  resume: 'In force again.',
  retire: 'Retired: nobody is offered these levels by it. It can be taken up again.',
  reopen: 'A draft again.',
};
