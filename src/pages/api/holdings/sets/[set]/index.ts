import { endpoint } from '../../../../../server/http/endpoint.ts';
import { SetInput, setObject } from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { readSet, removeSet } from '../../../../../server/holdings/detection/labelled/labelled-sets.ts';

export const GET = endpoint({
  action: 'holdings.edit',
  input: SetInput,
  object: setObject,
  run: ({ ctx, input }) => readSet(ctx, input.set),
});

export const DELETE = endpoint({
  action: 'holdings.edit',
  input: SetInput,
  object: setObject,
  run: ({ ctx, account, input }) => removeSet(ctx, account.id, input.set),
});
