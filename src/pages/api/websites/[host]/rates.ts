import { RateWish } from '../../../../core/websites/consents/rate.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { consentRatesBy } from '../../../../server/websites/consents/rates.ts';
import { HostInput, siteObject } from '../../../../server/websites/sites/host-input.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: HostInput.extend(RateWish.shape),
  object: siteObject,
  run: ({ ctx, input: { host, ...wish } }) => consentRatesBy(ctx, host, wish),
});
