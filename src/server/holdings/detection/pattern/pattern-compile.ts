import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import type { FieldError } from '../../../../core/refusal.ts';

/** What keeps a detector from being made ready, by field; empty where nothing does. */
export function compileComplaint(of: PatternDetector): readonly FieldError[] {
  const patterns = patternsOf(of).flatMap(({ field, pattern }) => {
    try {
      new RegExp(pattern, 'u');
      return [];
    } catch (error) {
      return [
        { field, message: `${(error as Error).message.replace(/^Invalid regular expression: /, '')}.` },
      ];
    }
  });
  if (patterns.length > 0) return patterns;
  try {
    new Engine([of]);
    return [];
  } catch (error) {
    return [{ field: 'anchor', message: (error as Error).message }];
  }
}

export interface PatternAt {
  readonly field: string;
  readonly pattern: string;
  readonly ignoreCase: boolean;
}

/** Every pattern in a detector, by its field. */
export function patternsOf(of: PatternDetector): readonly PatternAt[] {
  const plain = (field: string, pattern: string, ignoreCase = false) => ({ field, pattern, ignoreCase });
  return [
    ...(of.anchor.by === 'pattern' ? [plain('anchor.pattern', of.anchor.pattern, of.anchor.ignoreCase)] : []),
    ...(of.anchor.by !== 'function' && of.anchor.field
      ? [
          plain(
            'anchor.field.pattern',
            of.anchor.field.pattern,
            of.anchor.by === 'words' || of.anchor.ignoreCase,
          ),
        ]
      : []),
    ...(of.anchor.by === 'words' && of.anchor.pattern !== undefined
      ? [plain('anchor.pattern', of.anchor.pattern, true)]
      : []),
    ...of.checks.flatMap((c, i) =>
      c.check === 'does not match' ? [plain(`checks.${i}.pattern`, c.pattern)] : [],
    ),
    ...of.context.flatMap((c, i) =>
      c.pattern === undefined ? [] : [plain(`context.${i}.pattern`, c.pattern, true)],
    ),
    ...of.exclude.patterns.map((p, i) => plain(`exclude.patterns.${i}`, p)),
  ];
}
