import { endpoint } from '../../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
  RowNumber,
} from '../../../../../../server/holdings/detection/detectors/detector-input.ts';
import {
  readText,
  removeText,
} from '../../../../../../server/holdings/detection/detectors/detector-texts.ts';

const input = DetectorInput.extend({ text: RowNumber });

export const GET = endpoint({
  action: 'holdings.edit',
  input,
  object: detectorObject,
  run: ({ ctx, input: { id, text } }) => readText(ctx, id, text),
});

export const DELETE = endpoint({
  action: 'holdings.edit',
  input,
  object: detectorObject,
  run: ({ ctx, account, input: { id, text } }) => removeText(ctx, account.id, id, text),
});
