import type { Json } from '../../rules/change.ts';
import type { Sentence, SlotPart } from '../../rules/sentence.ts';
import type { NoticeContent } from '../notice/notice.ts';
import { purposeName, type Purpose } from '../notice/purpose.ts';
import type { RegimeRow } from '../notice/regime.ts';
import { askedPurposes, RESTRICTION_WORDS, RESTRICTIONS, type Restriction } from './tcf-purposes.ts';
import { firstTcf, INTEREST_WORDS, INTERESTS, whyNotOn, whyNotRestricted } from './tcf-settings.ts';

export interface TcfNames {
  readonly vendors: readonly { readonly id: number; readonly name: string }[];
  /** Of the framework. */
  readonly purposes: readonly { readonly id: number; readonly name: string }[];
  readonly own: readonly Purpose[];
  readonly regimes: readonly RegimeRow[];
}

/** How a notice takes part in the framework, as prose. */
export function tcfSentence(content: NoticeContent, names: TcfNames): Sentence {
  const { tcf } = content;
  const part = { label: 'Framework', parts: ['this site ', onSlot(names)] };
  if (!tcf) return [part];
  const purpose = (id: number) => `${id} ${names.purposes.find((p) => p.id === id)?.name ?? ''}`.trim();
  const why = whyNotOn(names.regimes);
  return [
    {
      ...part,
      parts: [
        ...part.parts,
        ', as CMP ',
        {
          path: ['tcf', 'cmpId'],
          label: 'Number of the registration',
          say: String,
          editor: { kind: 'number', unit: '', least: 2, most: 4095 },
        },
        ', for a publisher in ',
        {
          path: ['tcf', 'publisherCountry'],
          label: 'Country of the publisher',
          say: String,
          editor: {
            kind: 'text',
            most: 2,
            check: (t) => (/^[A-Z]{2}$/.test(t) ? '' : 'Two capital letters, such as DK'),
          },
        },
      ],
    },
    { label: 'Vendors', parts: [vendorsSlot(names)] },
    ...content.purposes.map((code) => ({
      label: purposeName(names.own, code),
      parts: ['asks for ', coversSlot(code, purposeName(names.own, code), names, purpose)],
    })),
    {
      label: 'Interests',
      parts: [
        'legitimate interests ',
        {
          path: ['tcf', 'interests'],
          label: 'How legitimate interests begin',
          say: (value) => INTEREST_WORDS[value as keyof typeof INTEREST_WORDS] ?? String(value),
          editor: {
            kind: 'choice',
            options: INTERESTS.map((value) => ({
              value,
              words: INTEREST_WORDS[value],
              ...(value === 'on' && why ? { whyNot: why } : {}),
            })),
          },
        },
      ],
    },
    ...askedPurposes(tcf, content.purposes).map((id) => ({
      label: '',
      parts: [`${purpose(id)}: `, restrictionSlot(id, purpose(id))],
    })),
  ];
}

function onSlot({ vendors }: TcfNames): SlotPart {
  return {
    path: ['tcf'],
    label: 'Whether it takes part in the framework',
    say: (value) =>
      value === 'on' ? 'takes part in the framework (TCF 2.2)' : 'takes no part in the framework',
    editor: {
      kind: 'choice',
      options: [
        { value: 'off', words: 'takes no part in the framework' },
        {
          value: 'on',
          words: 'takes part in the framework (TCF 2.2)',
          detail: 'tags of vendors ask by its interface, and visitors choose among them',
        },
      ],
    },
    turn: {
      read: (content) => ((content as unknown as NoticeContent).tcf ? 'on' : 'off'),
      write: (content, value) => {
        const notice = content as unknown as NoticeContent;
        const begun = () =>
          firstTcf(
            vendors.map((v) => v.id),
            notice.purposes,
          );
        return { ...notice, tcf: value === 'on' ? (notice.tcf ?? begun()) : null } as unknown as Json;
      },
    },
  };
}

/** Lists of numbers are edited as lists of words. */
function numbersTurn(
  path: readonly [string, string, ...string[]],
  all: (content: NoticeContent) => readonly number[],
) {
  return {
    read: (content: Json): Json => all(content as unknown as NoticeContent).map(String),
    write: (content: Json, value: Json): Json => {
      const numbers = (value as readonly string[]).map(Number).toSorted((a, b) => a - b);
      const notice = content as unknown as NoticeContent;
      const tcf = notice.tcf as NonNullable<NoticeContent['tcf']>;
      const [, first, second] = path;
      const next =
        second === undefined
          ? { ...tcf, [first]: numbers }
          : { ...tcf, [first]: { ...(tcf[first as 'covers'] as object), [second]: numbers } };
      return { ...notice, tcf: next } as unknown as Json;
    },
  };
}

function vendorsSlot({ vendors }: TcfNames): SlotPart {
  return {
    path: ['tcf', 'vendors'],
    label: 'Vendors that visitors are asked about',
    say: (value) => {
      const ids = Array.isArray(value) ? value : [];
      const names = ids.map(
        (id: Json) =>
          vendors.find((v) => String(v.id) === String(id))?.name ??
          `${String(id)}, which the list does not have`,
      );
      return names.length <= 6
        ? names.join(', ')
        : `${names.slice(0, 5).join(', ')} and ${names.length - 5} more`;
    },
    editor: {
      kind: 'many',
      options: vendors.map((v) => ({ value: String(v.id), words: v.name, detail: String(v.id) })),
    },
    turn: numbersTurn(['tcf', 'vendors'], (c) => c.tcf?.vendors ?? []),
  };
}

function coversSlot(
  code: string,
  name: string,
  { purposes }: TcfNames,
  words: (id: number) => string,
): SlotPart {
  return {
    path: ['tcf', 'covers', code],
    label: `Purposes of the framework that go with ${name}`,
    say: (value) =>
      Array.isArray(value) && value.length > 0
        ? value.map((id: Json) => words(Number(id))).join(' · ')
        : 'none of the framework’s purposes',
    editor: { kind: 'many', options: purposes.map((p) => ({ value: String(p.id), words: words(p.id) })) },
    turn: numbersTurn(['tcf', 'covers', code], (c) => c.tcf?.covers[code] ?? []),
  };
}

function restrictionSlot(id: number, name: string): SlotPart {
  const options = RESTRICTIONS.map((value) => {
    const whyNot = whyNotRestricted(id, value);
    return { value, words: RESTRICTION_WORDS[value], ...(whyNot ? { whyNot } : {}) };
  });
  return {
    path: ['tcf', 'restrictions', String(id)],
    label: `On what vendors may rest ${name}`,
    say: (value) => RESTRICTION_WORDS[(value ?? 'as declared') as Restriction] ?? String(value),
    editor: { kind: 'choice', options },
    turn: {
      read: (content) => (content as unknown as NoticeContent).tcf?.restrictions[id] ?? 'as declared',
      write: (content, value) => {
        const notice = content as unknown as NoticeContent;
        const tcf = notice.tcf as NonNullable<NoticeContent['tcf']>;
        const { [id]: _before, ...others } = tcf.restrictions;
        const restrictions = value === 'as declared' ? others : { ...others, [id]: value };
        return { ...notice, tcf: { ...tcf, restrictions } } as unknown as Json;
      },
    },
  };
}

/** What stands at a path, where it is more than a word. */
export function tcfValue(value: Json, [first, second]: readonly string[]): string | undefined {
  if (first !== 'tcf' || second !== undefined || value === null) return undefined;
  const { cmpId, vendors } = value as unknown as NonNullable<NoticeContent['tcf']>;
  return `as CMP ${cmpId}, with ${vendors.length} ${vendors.length === 1 ? 'vendor' : 'vendors'}`;
}

/** How a change of it is told. */
export function tcfPath([first, second, third]: readonly string[]): string | undefined {
  if (first !== 'tcf') return undefined;
  switch (second) {
    case undefined:
      return 'Part in the framework';
    case 'cmpId':
      return 'Number of the registration';
    case 'publisherCountry':
      return 'Country of the publisher';
    case 'vendors':
      return 'Vendors';
    case 'interests':
      return 'Legitimate interests';
    case 'covers':
      return `Purposes of the framework with ${third}`;
    default:
      return `Basis of the framework’s purpose ${third}`;
  }
}
