import {
  choiceAct,
  choiceMade,
  receiptDigest,
  type Receipt,
} from '../../src/core/websites/notice/consent.ts';
import { truncateAddress } from '../../src/core/address.ts';
import { formatUuid, uuidv7 } from '../../src/server/websites/consents/record-id.ts';
import { type StoredConsent } from '../../src/server/websites/consents/consent-record.ts';
import type { Random } from '../random.ts';
import type { DemoSite } from './notices.ts';

export interface DemoConsent extends Omit<StoredConsent, 'ledgerId'> {
  readonly digest: string;
}

const DAY = 86_400_000;
/** How likely each hour is to see a choice, 0 to 23. */
const HOURS = [2, 1, 1, 1, 1, 2, 4, 7, 9, 9, 9, 9, 10, 9, 8, 8, 8, 9, 10, 11, 11, 9, 6, 3];

/** The choices of a site's visitors over 90 days, oldest first. Some visitors come back and change their mind. */
export function demoConsents(
  site: DemoSite,
  siteId: number,
  host: string,
  now: Date,
  random: Random,
): DemoConsent[] {
  const weights = Object.fromEntries(Object.entries(site.regions).map(([region, r]) => [region, r.weight]));
  const times = Array.from({ length: site.choices }, () => randomTime(now, random)).sort((a, b) => a - b);
  const regulars: { key: Buffer; allowed: readonly string[]; region: string; address: string }[] = [];
  return times.map((time) => {
    const back = regulars.length > 20 && random.chance(0.06) ? random.pick(regulars) : undefined;
    const region = back?.region ?? random.weighted(weights);
    const key = back?.key ?? random.bytes(16);
    const address = back?.address ?? randomAddress(random);
    const habits = site.regions[region] as DemoSite['regions'][string];
    const version = versionAt(site, now, time);
    const { purposes } = (site.versions[version - 1] as DemoSite['versions'][number]).content;
    const allowed = choose(purposes, back ? 0.35 : habits.allows, random);
    const id = uuidv7(new Date(time), random.bytes(16));
    const receipt: Receipt = {
      id: formatUuid(id),
      at: new Date(time).toISOString(),
      site: host,
      notice: version,
      asked: purposes,
      allowed,
      choice: choiceMade(purposes, allowed),
      act: choiceAct(back?.allowed, allowed),
      language: random.pick(habits.languages),
      region,
    };
    if (!back && random.chance(0.2)) regulars.push({ key, allowed, region, address });
    if (back) back.allowed = allowed;
    const from = {
      device: random.weighted({ phone: 58, desktop: 36, tablet: 6 }) as 'phone',
      page: random.weighted({ '': 40, offers: 24, sailings: 22, booking: 14 }),
    };
    return { id, receipt, siteId, address, key, from, digest: receiptDigest(receipt) };
  });
}

function choose(purposes: readonly string[], allows: number, random: Random): readonly string[] {
  if (!random.chance(allows)) return [];
  if (random.chance(0.78)) return purposes;
  const some = purposes.filter((p) => random.chance(p === 'advertising' ? 0.15 : 0.7));
  return some.length ? some : [purposes[0] as string];
}

function randomTime(now: Date, random: Random): number {
  for (;;) {
    const day = new Date(now.getTime() - random.below(89) * DAY);
    const weekend = day.getUTCDay() === 0 || day.getUTCDay() === 6;
    if (weekend && random.chance(0.25)) continue;
    const hour = Number(random.weighted(Object.fromEntries(HOURS.map((w, h) => [String(h), w]))));
    const time = Date.UTC(
      day.getUTCFullYear(),
      day.getUTCMonth(),
      day.getUTCDate(),
      hour,
      random.below(60),
      random.below(60),
      random.below(1000),
    );
    if (time < now.getTime() - 60_000) return time;
  }
}

/** Rehearsed versions are shown to no visitor. */
function versionAt(site: DemoSite, now: Date, time: number): number {
  const shown = site.stage(() => '').state === 'rehearsing' ? site.versions.slice(0, -1) : site.versions;
  const begun = shown.filter((v) => now.getTime() - v.daysAgo * DAY <= time);
  return Math.max(1, begun.length);
}

/** From ranges kept for documents and trials (RFC 2544, RFC 3849), so that they are nobody's. */
function randomAddress(random: Random): string {
  const full = random.chance(0.7)
    ? `198.${18 + random.below(2)}.${random.below(256)}.${random.below(256)}`
    : `2001:db8:${random.below(65536).toString(16)}::${random.below(65535).toString(16)}`;
  return truncateAddress(full) as string;
}
