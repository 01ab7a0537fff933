import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import {
  DetectorInput,
  detectorObject,
} from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { DETECTOR } from '../../../../../server/holdings/detection/detectors/own-detectors.ts';
import { takeRuleBack } from '../../../../../server/rules/rule-store.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: DetectorInput.extend({ version: z.int().positive(), revision: z.int().nonnegative() }),
  object: detectorObject,
  run: ({ ctx, account, input: { id, version, revision } }) =>
    ctx.store.transaction((tx) => takeRuleBack(tx, ctx.now(), DETECTOR, account.id, id, version, revision)),
});
