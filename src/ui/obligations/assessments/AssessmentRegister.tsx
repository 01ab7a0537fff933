import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { assessmentLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessments } from '../use-obligations.ts';

export function AssessmentRegister({ chosen }: { readonly chosen: string | undefined }) {
  const assessments = useAssessments();
  const mayStart = useMay('obligations.edit');
  if (assessments.isError && !assessments.data)
    return <Failure error={assessments.error} onRetry={() => void assessments.refetch()} />;
  if (!assessments.data) return <Loading what="assessments" />;
  return (
    <RegisterList
      what="assessments"
      rows={assessments.data.map((a) => ({
        id: String(a.id),
        name: a.name,
        group: `Cycle: ${a.cycle}`,
        detail: `${readyWords(a.tally)} ready of 100 · ${pointsWords(a.tally.given)} of ${pointsWords(a.tally.applicable)} points${a.newer === null ? '' : ' · a new version waits'}`,
        href: assessmentLink(a.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayStart && <Button onClick={() => setQuery({ new: 'assessment' }, 'push')}>New</Button>}
      empty="Press New to hold what you do against a law or a standard."
    />
  );
}
