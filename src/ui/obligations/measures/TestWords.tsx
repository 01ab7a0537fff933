import type { ListedMeasure } from '../../../server/obligations/assessments/assessment-view.ts';
import { numberWords } from '../../desk/words.ts';

/** Who tests a measure, and what was seen. */
export function TestWords({ measure: m }: { readonly measure: ListedMeasure }) {
  const mark = m.test === 'passed' ? '✓' : m.test === 'failed' ? '◆' : '○';
  if (m.testedBy === 'program')
    return (
      <>
        {mark} reads the program:{' '}
        {m.live?.value == null || m.live.of === 0 ? 'nothing to count' : valueWords(m.live.value, m.live.of)}
      </>
    );
  if (m.testedBy === 'provider')
    return (
      <>
        {mark} {m.test === 'passed' ? 'passed, as providers say' : 'failed, as a provider says'}
      </>
    );
  if (m.test !== null)
    return (
      <>
        {mark} {m.test === 'passed' ? 'passed, by a person' : 'failed, by a person'}
      </>
    );
  return (
    <>
      {mark} {m.state === 'done' ? 'waits for somebody who did not do it' : 'a person, once it is done'}
    </>
  );
}

function valueWords(value: number, of: number | null): string {
  return of === null ? numberWords(value) : `${numberWords(value)} of ${numberWords(of)}`;
}
