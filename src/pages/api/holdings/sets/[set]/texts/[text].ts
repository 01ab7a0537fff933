import { z } from 'zod';
import { Mark } from '../../../../../../core/holdings/detection/labelled/labelled.ts';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import {
  RowNumber,
  SetInput,
  setObject,
} from '../../../../../../server/holdings/detection/detectors/detector-input.ts';
import {
  removeLabelledText,
  setMarks,
} from '../../../../../../server/holdings/detection/labelled/labelled-sets.ts';

const Input = SetInput.extend({ text: RowNumber });

export const PUT = endpoint({
  action: 'holdings.edit',
  input: Input.extend({ revision: z.int().nonnegative(), marks: z.array(Mark).max(5000) }),
  object: setObject,
  run: ({ ctx, account, input: { set, text, revision, marks } }) =>
    setMarks(ctx, account.id, set, text, revision, marks),
});

export const DELETE = endpoint({
  action: 'holdings.edit',
  input: Input,
  object: setObject,
  run: ({ ctx, account, input: { set, text } }) => removeLabelledText(ctx, account.id, set, text),
});
