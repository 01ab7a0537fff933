import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { SetInput, setObject } from '../../../../../server/holdings/detection/detectors/detector-input.ts';
import { READING } from '../../../../../server/http/shares.ts';
import { scoreOnSet } from '../../../../../server/holdings/detection/labelled/labelled-sets.ts';
import { DetectorDraft } from '../../../../../core/holdings/detection/detector/own-detector.ts';

export const POST = endpoint({
  action: 'holdings.edit',
  input: SetInput.extend({
    label: z.string().min(1).max(64),
    draft: DetectorDraft,
    /** Contents to compare it with. */
    earlier: z.array(DetectorDraft).max(3).default([]),
  }),
  object: setObject,
  run: ({ ctx, account, input: { set, label, draft, earlier } }) =>
    READING.use(account.id, () => scoreOnSet(ctx, set, label, draft, earlier)),
});
