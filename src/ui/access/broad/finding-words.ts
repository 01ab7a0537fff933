import { FINDING_KINDS } from '../../../core/access/breadth/breadth.ts';
import type { ListedFinding } from '../../../server/access/breadth/find-breadth.ts';
import { countWords, numberWords } from '../../desk/words.ts';

export function findingWords({ kind, counts }: ListedFinding): string {
  if (kind === 'link without end' && (counts['anyone'] ?? 0) > 0) return 'link for anyone, without end';
  if (kind === 'exposed' && (counts['anyone'] ?? 0) > 0)
    return `${FINDING_KINDS[kind]}, and a link for anyone`;
  return FINDING_KINDS[kind];
}

/** The numbers behind its weight. */
export function findingFigures({ kind, counts: c }: ListedFinding): string {
  const n = (key: string) => numberWords(c[key] ?? 0);
  switch (kind) {
    case 'exposed':
      return `${n('reach')} reach it − ${n('used')} used it, × ${n('sensitive')} sensitive`;
    case 'link without end':
      return c['anyone']
        ? `${n('sensitive')} sensitive`
        : `${n('people')} people, ${n('sensitive')} sensitive`;
    case 'leaver':
    case 'guest':
      return `${countWords(c['places'] ?? 0, 'place')}, ${n('sensitive')} sensitive`;
    case 'direct grant':
      return `${countWords(c['grants'] ?? 0, 'grant')}, ${n('sensitive')} sensitive`;
    case 'gives to others':
      return `${n('givers')} can, ${n('sensitive')} sensitive`;
    case 'empty group':
    case 'group of one':
    case 'stale group':
      return `${n('people')} in it, given at ${countWords(c['places'] ?? 0, 'place')}`;
  }
}
