import type { NoticeContent } from '../notice/notice.ts';
import { languageName } from '../notice/notice-words.ts';
import { regimeOf, type RegimeRow } from '../notice/regime.ts';
import type { Receipt } from '../notice/consent.ts';
import { plainRich } from '../../text/rich-text.ts';
import { purposeName, type Purpose } from '../notice/purpose.ts';

/** Who answers for the processing. */
export interface Controller {
  readonly name: string;
  readonly site: string;
}

/**
 * A receipt with the fields of ISO/IEC TS 27560:2023, clause 6: header, processing, parties, events. What the product does
 * not know, such as the categories of data behind a purpose, is left out and not made up.
 */
export function consent27560(
  receipt: Receipt,
  visitorKey: string,
  notice: NoticeContent,
  purposes: readonly Purpose[],
  controller: Controller,
  regimes?: readonly RegimeRow[],
) {
  const text = notice.texts[receipt.language] ?? Object.values(notice.texts)[0];
  const regime = regimeOf(receipt.region, regimes);
  return {
    record_header: {
      schema_version: 'ISO/IEC TS 27560:2023',
      record_id: receipt.id,
      pii_principal_id: visitorKey,
    },
    pii_processing: {
      privacy_notice: {
        version: receipt.notice,
        url: notice.policyUrl || undefined,
        text: plainRich(text?.body ?? ''),
      },
      language: receipt.language,
      language_name: languageName(receipt.language),
      purposes: receipt.asked.map((code) => ({
        purpose_id: code,
        purpose: text?.purposes[code]?.name ?? purposeName(purposes, code),
        purpose_description: text?.purposes[code]?.text ?? '',
        lawful_basis: regime.regime === 'ask first' ? 'consent' : `${regime.regime}: ${regime.law}`,
        consent_given: receipt.allowed.includes(code),
        recipient_third_parties: purposes.find((p) => p.code === code)?.shares ?? false,
      })),
      geographic_restrictions: receipt.region,
      jurisdiction: regime.law,
      withdrawal_method: `the control on every page of ${controller.site}, as easily as it was given`,
      collection_method: `the notice of ${controller.site}`,
    },
    party_identification: {
      parties: [{ party_id: controller.site, party_name: controller.name, party_role: 'PII controller' }],
    },
    event: {
      event_time: receipt.at,
      validity_duration: `P${regime.months ?? notice.askAgainMonths}M`,
      entity_id: visitorKey,
      event_type: 'explicit',
      event_state:
        receipt.allowed.length === 0 ? (receipt.act === 'withdrawn' ? 'withdrawn' : 'refused') : 'given',
    },
  };
}
