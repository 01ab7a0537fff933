import { expect, it } from 'vitest';
import type { Receipt } from '../notice/consent.ts';
import { firstNotice } from '../notice/notice.ts';
import { FIRST_PURPOSES } from '../notice/purpose.ts';
import { consent27560 } from './consent-27560.ts';

const receipt: Receipt = {
  ...{ id: 'r1', at: '2026-11-30T10:00:00.000Z', site: 'a.example', notice: 3, language: 'da', region: 'DK' },
  ...{
    asked: ['measurement', 'advertising'],
    allowed: ['measurement'],
    choice: 'allowed some',
    act: 'first',
  },
};
const of = (over: Partial<Receipt> = {}) =>
  consent27560({ ...receipt, ...over }, 'ab'.repeat(16), firstNotice(), FIRST_PURPOSES, {
    ...{ name: 'Brindle Strait', site: 'a.example' },
  });

it('says what was asked, in the words that were shown, by which law, and for how long', () => {
  const record = of();
  expect(record.record_header).toMatchObject({ record_id: 'r1', pii_principal_id: 'ab'.repeat(16) });
  expect(record.pii_processing.purposes).toMatchObject([
    { purpose: 'Måling', lawful_basis: 'consent', consent_given: true, recipient_third_parties: false },
    { purpose: 'Annoncer', consent_given: false, recipient_third_parties: true },
  ]);
  expect(record.event).toMatchObject({ validity_duration: 'P6M', event_state: 'given' });
});

it('tells a refusal from a withdrawal, and consent from what the law lets run', () => {
  expect(of({ allowed: [] }).event.event_state).toBe('refused');
  expect(of({ allowed: [], act: 'withdrawn' }).event.event_state).toBe('withdrawn');
  expect(of({ region: 'US-CA' }).pii_processing.purposes[0]?.lawful_basis).toContain('on unless refused');
});
