import type { AccessSourceView } from '../../../server/access/sources/access-sources.ts';
import { countWords } from '../../desk/words.ts';

const LINES: readonly (readonly [kind: string, one: string, many: string])[] = [
  ['person', 'person', 'people'],
  ['group', 'group', 'groups'],
  ['place', 'place', 'places'],
  ['grant', 'grant', 'grants'],
  ['link', 'link', 'links'],
];

/** What a source tells of: “420 people, 61 groups”. */
export function linesWords({ lines }: Pick<AccessSourceView, 'lines'>): string {
  return LINES.filter(([kind]) => (lines[kind] ?? 0) > 0)
    .map(([kind, one, many]) => countWords(lines[kind] ?? 0, one, many))
    .join(', ');
}
