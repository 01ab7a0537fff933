import { EEA } from '../../eea.ts';
import { z } from 'zod';
import { PurposeCode } from './purpose-code.ts';
import type { Purpose } from './purpose.ts';
import { UNKNOWN_REGION, type Region } from './region.ts';

/** What a region's law asks of a website before trackers may run. */
export const REGIMES = ['ask first', 'on unless refused', 'inform only', 'nothing'] as const;
export type Regime = (typeof REGIMES)[number];

export const REGIME_WORDS: Readonly<Record<Regime, string>> = {
  'ask first': 'nothing but the essential runs until a visitor allows it',
  'on unless refused': 'it runs until a visitor refuses it',
  'inform only': 'visitors are told, and need not be asked',
  nothing: 'the law asks nothing',
};

/** How visitors of some regions are asked. */
export const RegimeRow = z
  .strictObject({
    /** A region, or `EEA`; `ZZ` for wherever nothing else is said. */
    code: z.string().regex(/^(EEA|[A-Z]{2}(-[A-Z0-9]{1,3})?)$/, 'A region such as DK or US-CA'),
    regime: z.enum(REGIMES),
    law: z.string().trim().min(3, 'Name the law behind it').max(300, 'At most 300 characters'),
    /** How a purpose starts where that is otherwise than the regime says. */
    starts: z.record(PurposeCode, z.enum(['on', 'off'])),
    /** A Global Privacy Control signal counts as a refusal of selling and sharing. */
    signal: z.boolean(),
    /** Months that an answer holds; `null`: as long as the notice says. */
    months: z.int().min(1, 'At least 1 month').max(24, 'At most 24 months').nullable(),
  })
  .superRefine((row, ctx) => {
    if (row.regime === 'ask first' && Object.values(row.starts).includes('on'))
      ctx.addIssue({
        code: 'custom',
        path: ['starts'],
        message: 'Where the law asks first, nothing but the essential can start on.',
      });
  });
export type RegimeRow = z.infer<typeof RegimeRow>;

const row = (code: string, regime: Regime, law: string, signal = false): RegimeRow => ({
  ...{ code, regime, law, signal },
  starts: {},
  months: null,
});

const DIRECTIVE = 'Directive 2002/58/EC, art. 5(3); GDPR, art. 6(1)(a)';

/** What the program knows of the law; an organisation may say otherwise, region by region. */
export const SHIPPED_REGIMES: readonly RegimeRow[] = [
  row('EEA', 'ask first', DIRECTIVE),
  row('GB', 'ask first', 'PECR 2003, reg. 6; UK GDPR, art. 6(1)(a)'),
  row('CH', 'on unless refused', 'TCA, art. 45c; FADP, art. 19'),
  row('BR', 'ask first', 'LGPD, art. 7(I) and 8'),
  row('CA', 'on unless refused', 'PIPEDA, Schedule 1, 4.3'),
  row(
    'CA-QC',
    'ask first',
    'Act respecting the protection of personal information in the private sector (Quebec), s. 8.1, 9.1 and 14',
  ),
  row('AU', 'inform only', 'Privacy Act 1988, APP 5'),
  row('NZ', 'inform only', 'Privacy Act 2020, IPP 3'),
  row('US-CA', 'on unless refused', 'California Civil Code § 1798.120 and 1798.135; 11 CCR § 7025', true),
  row('US-CO', 'on unless refused', 'Colorado Privacy Act, C.R.S. § 6-1-1306(1)(a)(IV)', true),
  row('US-CT', 'on unless refused', 'Connecticut Data Privacy Act, § 42-520(e)', true),
  row('US-DE', 'on unless refused', 'Delaware Personal Data Privacy Act, 6 Del. C. § 12D-106', true),
  row('US-IA', 'on unless refused', 'Iowa Code § 715D.3 and 715D.4'),
  row('US-IN', 'on unless refused', 'Indiana Code 24-15-3-1'),
  row('US-KY', 'on unless refused', 'KRS 367.3615'),
  row('US-MD', 'on unless refused', 'Maryland Online Data Privacy Act, Com. Law § 14-4705 and 14-4707', true),
  row('US-MN', 'on unless refused', 'Minnesota Consumer Data Privacy Act, Minn. Stat. § 325M.14', true),
  row('US-MT', 'on unless refused', 'Montana Consumer Data Privacy Act, § 30-14-2812', true),
  row('US-NE', 'on unless refused', 'Nebraska Data Privacy Act, Neb. Rev. Stat. § 87-1107', true),
  row('US-NH', 'on unless refused', 'New Hampshire, RSA 507-H:4 and 507-H:6', true),
  row('US-NJ', 'on unless refused', 'New Jersey Data Privacy Act, N.J.S.A. 56:8-166.11', true),
  row('US-OR', 'on unless refused', 'Oregon Consumer Privacy Act, ORS 646A.578', true),
  row('US-RI', 'on unless refused', 'Rhode Island, R.I. Gen. Laws § 6-48.1-5'),
  row('US-TN', 'on unless refused', 'Tennessee Information Protection Act, T.C.A. § 47-18-3304'),
  row('US-TX', 'on unless refused', 'Texas Data Privacy and Security Act, § 541.055', true),
  row('US-UT', 'on unless refused', 'Utah Consumer Privacy Act, Utah Code § 13-61-201'),
  row('US-VA', 'on unless refused', 'Virginia Consumer Data Protection Act, Va. Code § 59.1-577'),
  row('US', 'on unless refused', 'state privacy acts, where one applies'),
  row(UNKNOWN_REGION, 'ask first', `${DIRECTIVE}, as the strictest: no regime is on file for this region`),
];

/** The table with what an organisation says in the place of what is shipped, and its own regions besides. */
export function regimeTable(own: readonly RegimeRow[] = []): readonly RegimeRow[] {
  const said = new Map(own.map((r) => [r.code, r]));
  const shipped = SHIPPED_REGIMES.map((r) => said.get(r.code) ?? r);
  const added = own.filter((r) => !SHIPPED_REGIMES.some((s) => s.code === r.code));
  const rest = shipped.at(-1) as RegimeRow;
  return [...shipped.slice(0, -1), ...added.toSorted((a, b) => (a.code < b.code ? -1 : 1)), rest];
}

const SHIPPED_TABLE = regimeTable();

/** The row for a region: its own, its country's, that of the EEA, or what holds where nothing else is said. */
export function regimeOf(region: Region, table: readonly RegimeRow[] = SHIPPED_TABLE): RegimeRow {
  const country = region.slice(0, 2);
  const find = (code: string) => table.find((r) => r.code === code);
  return (
    find(region) ??
    find(country) ??
    (EEA.includes(country) ? find('EEA') : undefined) ??
    find(UNKNOWN_REGION) ??
    (SHIPPED_REGIMES.at(-1) as RegimeRow)
  );
}

/** Whether a purpose runs before a visitor has said anything. */
export function startsOn({ regime, starts }: RegimeRow, purpose: Purpose): boolean {
  if (purpose.essential) return true;
  return regime !== 'ask first' && starts[purpose.code] !== 'off';
}

/** Whether a visitor's refusal of a purpose is listened to there: where the law asks, or the organisation does. */
export function mayRefuse(regimeRow: RegimeRow, purpose: Purpose): boolean {
  if (purpose.essential) return false;
  const { regime } = regimeRow;
  return regime === 'ask first' || regime === 'on unless refused' || !startsOn(regimeRow, purpose);
}

/** The purposes that the signal refuses there. */
export function refusedBySignal({ signal }: RegimeRow, purposes: readonly Purpose[]): readonly string[] {
  return signal ? purposes.filter((p) => p.shares && !p.essential).map((p) => p.code) : [];
}

/** Whether visitors are shown the notice without asking for it: where something waits for their answer. */
export function asksFirst(regimeRow: RegimeRow, purposes: readonly Purpose[]): boolean {
  return purposes.some((p) => !p.essential && !startsOn(regimeRow, p));
}

/** Regions a sweep can come from: one of each law in the table. */
export function sweepRegions(table: readonly RegimeRow[] = SHIPPED_TABLE): readonly Region[] {
  return table.flatMap((r) =>
    r.code === 'EEA' ? EEA.toSorted() : r.code === UNKNOWN_REGION ? [] : [r.code],
  );
}
