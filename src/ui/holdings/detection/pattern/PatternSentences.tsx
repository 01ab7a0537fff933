import { patternSentence } from '../../../../core/holdings/detection/detector/pattern-sentence.ts';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { RuleSentence } from '../../../rules/RuleSentence.tsx';
import { useDetectors } from '../detectors/use-detectors.ts';

interface PatternSentencesProps {
  readonly content: PatternDetector;
  readonly set: (content: PatternDetector) => void;
  readonly fixed: boolean;
  /** What is wrong with a field, by its dotted path. */
  readonly error: (field: string) => string | undefined;
}

/** A pattern detector as sentences; every slot changes the draft. */
export function PatternSentences({ content, set, fixed, error }: PatternSentencesProps) {
  const { data } = useDetectors();
  const detectors = [...(data?.own.filter((d) => d.kind === 'pattern') ?? []), ...(data?.builtIn ?? [])].map(
    (d) => ({ value: d.id, words: d.name }),
  );
  return (
    <RuleSentence
      sentence={patternSentence(content, { detectors }, !fixed)}
      content={content}
      set={set}
      fixed={fixed}
      error={(path) =>
        error(path.join('.')) ??
        // What is wrong with one of several patterns, or with the anchor as a whole, stands at the first slot of it.
        error([...path, '0'].join('.')) ??
        (path[0] === 'anchor' && (path[1] === 'pattern' || path[1] === 'words') ? error('anchor') : undefined)
      }
    />
  );
}
