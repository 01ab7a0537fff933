import { EEA } from '../../eea.ts';

/** Somebody who has to be told, by when. */
export interface Deadline {
  readonly id: string;
  readonly to: 'authority' | 'people' | 'security authority';
  readonly law: string;
  readonly article: string;
  /** ISO 8601, UTC; `null` where the law says without undue delay and names no time. */
  readonly by: string | null;
  readonly words: string;
}

/** Laws by region, with the hours or days that they leave from when it was known. */
interface Rule extends Omit<Deadline, 'by'> {
  readonly where: readonly string[];
  readonly hours?: number;
  readonly days?: number;
  /** It holds only from so many people on. */
  readonly from?: number;
}

const authority = 'authority' as const;
const people = 'people' as const;

const RULES: readonly Rule[] = [
  {
    id: 'gdpr-33',
    where: EEA,
    to: authority,
    law: 'GDPR',
    article: 'Art. 33(1)',
    hours: 72,
    words: 'the supervisory authority, unless it is unlikely to be a risk to people',
  },
  {
    id: 'gdpr-34',
    where: EEA,
    to: people,
    law: 'GDPR',
    article: 'Art. 34(1)',
    words: 'the people, without undue delay, where the risk to them is high',
  },
  {
    id: 'uk-33',
    where: ['GB'],
    to: authority,
    law: 'UK GDPR',
    article: 'Art. 33(1)',
    hours: 72,
    words: 'the Information Commissioner, unless it is unlikely to be a risk to people',
  },
  {
    id: 'uk-34',
    where: ['GB'],
    to: people,
    law: 'UK GDPR',
    article: 'Art. 34(1)',
    words: 'the people, without undue delay, where the risk to them is high',
  },
  {
    id: 'fadp-24',
    where: ['CH'],
    to: authority,
    law: 'Swiss FADP',
    article: 'Art. 24(1)',
    words: 'the Commissioner, as soon as possible, where the risk is high',
  },
  {
    id: 'lgpd-48',
    where: ['BR'],
    to: authority,
    law: 'LGPD',
    article: 'Art. 48; CD/ANPD 15/2024, Art. 6',
    hours: 72,
    words: 'the authority, within three working days',
  },
  {
    id: 'quebec',
    where: ['CA-QC'],
    to: authority,
    law: 'Quebec private sector Act',
    article: 's. 3.5',
    words: 'the Commission and the people, promptly, where serious injury is a risk',
  },
  {
    id: 'us-ca',
    where: ['US-CA'],
    to: people,
    law: 'California Civil Code',
    article: '§ 1798.82(a)',
    days: 30,
    words: 'the people, within 30 days',
  },
  {
    id: 'us-ca-ag',
    where: ['US-CA'],
    to: authority,
    law: 'California Civil Code',
    article: '§ 1798.82(f)',
    days: 45,
    from: 500,
    words: 'the attorney general, within 15 days of telling more than 500 people',
  },
  {
    id: 'us-ny',
    where: ['US-NY'],
    to: people,
    law: 'New York Gen. Bus. Law',
    article: '§ 899-aa(2)',
    days: 30,
    words: 'the people, within 30 days',
  },
  {
    id: 'us-co',
    where: ['US-CO'],
    to: people,
    law: 'Colorado',
    article: 'C.R.S. § 6-1-716(2)',
    days: 30,
    words: 'the people, within 30 days',
  },
  {
    id: 'us-fl',
    where: ['US-FL'],
    to: people,
    law: 'Florida',
    article: '§ 501.171(4)',
    days: 30,
    words: 'the people, within 30 days',
  },
  {
    id: 'us-wa',
    where: ['US-WA'],
    to: people,
    law: 'Washington',
    article: 'RCW 19.255.010',
    days: 30,
    words: 'the people, within 30 days',
  },
  {
    id: 'us-tx',
    where: ['US-TX'],
    to: people,
    law: 'Texas',
    article: 'Bus. & Com. Code § 521.053',
    days: 60,
    words: 'the people, within 60 days',
  },
];

export interface DeadlineInput {
  readonly knownAt: string;
  /** Where the people live. */
  readonly regions: readonly string[];
  readonly people: number | null;
  /** The organisation is essential or important under NIS2, and the incident significant (Art. 23(3)). */
  readonly nis2: boolean;
  /** It holds health data for those whom HIPAA covers. */
  readonly hipaa: boolean;
}

const HOUR = 3_600_000;

/**
 * Whom laws have told, and by when. Hours run from the moment it was known through nights, weekends and holidays; the longer
 * time that Regulation (EEC, Euratom) No 1182/71, Art. 3(5) gives over weekends is not reckoned with. NIS2 Art. 23(4): 24
 * hours, 72 hours, and a month after the second; HIPAA 45 CFR § 164.404 and 408: 60 days.
 */
export function deadlinesOf({
  knownAt,
  regions,
  people: count,
  nis2,
  hipaa,
}: DeadlineInput): readonly Deadline[] {
  const known = Date.parse(knownAt);
  const at = (ms: number) => new Date(known + ms).toISOString();
  const found = RULES.filter(
    (r) =>
      r.where.some((w) => regions.includes(w)) && (r.from === undefined || count === null || count > r.from),
  ).map(({ where: _where, hours, days, from: _from, ...r }): Deadline => ({
    ...r,
    by: hours !== undefined ? at(hours * HOUR) : days !== undefined ? at(days * 24 * HOUR) : null,
  }));
  const security = 'security authority' as const;
  if (nis2) {
    const base = { to: security, law: 'NIS2' };
    const second = new Date(known + 72 * HOUR);
    const month = new Date(second);
    month.setUTCMonth(month.getUTCMonth() + 1);
    if (month.getUTCDate() !== second.getUTCDate()) month.setUTCDate(0);
    found.push(
      { ...base, id: 'nis2-24', article: 'Art. 23(4)(a)', by: at(24 * HOUR), words: 'an early warning' },
      {
        ...base,
        id: 'nis2-72',
        article: 'Art. 23(4)(b)',
        by: at(72 * HOUR),
        words: 'a notification with a first assessment',
      },
      {
        ...base,
        id: 'nis2-month',
        article: 'Art. 23(4)(d)',
        by: month.toISOString(),
        words: 'a final report',
      },
    );
  }
  if (hipaa)
    found.push(
      {
        id: 'hipaa-people',
        to: people,
        law: 'HIPAA',
        article: '45 CFR § 164.404(b)',
        by: at(60 * 24 * HOUR),
        words: 'the people, within 60 days',
      },
      {
        id: 'hipaa-hhs',
        to: authority,
        law: 'HIPAA',
        article: '45 CFR § 164.408',
        by: count !== null && count < 500 ? null : at(60 * 24 * HOUR),
        words:
          count !== null && count < 500
            ? 'the Secretary, with the year’s others'
            : 'the Secretary, with the people',
      },
    );
  return found.toSorted((a, b) => (a.by ?? '9').localeCompare(b.by ?? '9'));
}

/** `41 hours left`, `3 days left`, `2 hours late` */
export function leftUntil(by: string, now: string): string {
  const hours = (Date.parse(by) - Date.parse(now)) / HOUR;
  const size = Math.abs(hours);
  const words =
    size >= 48
      ? `${Math.floor(size / 24)} days`
      : size >= 1
        ? `${Math.floor(size)} ${Math.floor(size) === 1 ? 'hour' : 'hours'}`
        : `${Math.floor(size * 60)} minutes`;
  return hours >= 0 ? `${words} left` : `${words} late`;
}
