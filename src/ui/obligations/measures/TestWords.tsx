import type { ListedMeasure } from '../../../server/obligations/assessments/assessment-view.ts';
import { numberWords } from '../../desk/words.ts';

/** Who tests a measure, and what was seen. */
export function TestWords({ measure: m }: { readonly measure: ListedMeasure }) {
  const mark = m.test === 'passed' ? '✓' : m.test === 'failed' ? '◆' : '○';
  if (m.testedBy === 'program')
    return (
      <>
        {mark} reads the program: {m.live?.value == null ? 'nothing counted yet' : valueWords(m.live.value)}
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

/** Shares are counted from 0 to 1, all else in whole numbers. */
export function valueWords(value: number): string {
  return Number.isInteger(value) ? numberWords(value) : `${Math.round(value * 1000) / 10}%`;
}
