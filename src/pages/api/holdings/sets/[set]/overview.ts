import { endpoint } from '../../../../../server/http/endpoint.ts';
import { SetInput, setObject } from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { overviewOfSet } from '../../../../../server/holdings/detection/labelled/labelled-sets.ts';

export const GET = endpoint({
  action: 'holdings.read',
  input: SetInput,
  object: setObject,
  run: ({ ctx, account, input }) => READING.use(account.id, () => overviewOfSet(ctx, input.set)),
});
