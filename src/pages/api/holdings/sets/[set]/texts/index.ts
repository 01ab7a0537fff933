import { z } from 'zod';
import { Mark } from '../../../../../../core/holdings/detection/labelled/labelled.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { SetInput, setObject } from '../../../../../../server/holdings/detection/detectors/detector-input.ts';
import { addLabelledText } from '../../../../../../server/holdings/detection/labelled/labelled-sets.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: SetInput.extend({
    name: z.string().trim().min(1, 'Give it a name').max(260),
    text: z.string().min(1, 'The text is empty').max(400_000, 'At most 400,000 characters'),
    marks: z.array(Mark).max(5000).default([]),
  }),
  object: setObject,
  run: ({ ctx, account, input: { set, ...text } }) => addLabelledText(ctx, account.id, set, text),
});
