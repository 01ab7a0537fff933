import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { Empty, Loading } from '../../parts/states.tsx';
import { levelLink } from '../links.ts';
import { useLevels } from '../use-protection.ts';

/** With no level chosen: the strongest, or what to do first. */
export function LevelsOverview() {
  const { data, isFetching } = useLevels();
  const mayEdit = useMay('protection.edit');
  const { query } = useDeskLocation();
  // What is being read again may have lost the one that stood first.
  if (!data || isFetching) return <Loading what="the levels" />;
  const [first] = data;
  if (first) {
    // A window that is open over it would close.
    if (!query.has('new')) queueMicrotask(() => go(levelLink(first.id), 'replace'));
    return <Loading what={first.name} />;
  }
  return (
    <Empty
      title="No level yet"
      action={
        mayEdit && (
          <Button kind="primary" onClick={() => setQuery({ new: 'level' }, 'push')}>
            New level
          </Button>
        )
      }
    >
      A level says how a document may be treated: Open, Internal, Confidential … Its marking stands on the
      document itself and goes where that goes. Name the first; you see on a real page what it looks like.
    </Empty>
  );
}
