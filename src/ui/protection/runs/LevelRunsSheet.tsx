import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { Empty } from '../../parts/states.tsx';

export function LevelRunsSheet() {
  const mayRun = useMay('protection.run');
  return (
    <Empty
      title="Levels set backwards"
      action={
        mayRun && (
          <Button kind="primary" onClick={() => setQuery({ new: 'run' }, 'push')}>
            Set levels backwards
          </Button>
        )
      }
    >
      The rules in force are brought to what is held already: how many items, where and how long is told
      before anything is changed. Each document is kept as it was, so that all of it can be put back.
    </Empty>
  );
}
