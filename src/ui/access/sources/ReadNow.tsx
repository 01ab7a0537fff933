import type { AccessSourceView } from '../../../server/access/sources/access-sources.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';

export function ReadNow({ source }: { readonly source: Pick<AccessSourceView, 'id' | 'name'> }) {
  const read = async () => {
    try {
      await request('POST', `/api/access/sources/${source.id}/read`, {});
      tell(`${source.name} is being read.`);
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <Button kind="quiet" aria-label={`Read ${source.name} now`} onClick={() => void read()}>
      Read it now
    </Button>
  );
}
