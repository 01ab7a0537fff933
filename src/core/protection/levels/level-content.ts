import { z } from 'zod';
import { Marking } from '../stamp/marking.ts';
import type { Level } from './level.ts';

const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'A colour such as #8a5a00.');

export const GOES_ON = { files: 'files', mail: 'mail', invitations: 'invitations' } as const;
export type GoesOn = keyof typeof GOES_ON;

export const LOWERING = {
  freely: 'freely',
  'with a reason': 'with a reason',
  never: 'by nobody but an officer',
} as const;

export const ALIGN = { left: 'to the left', centre: 'centred', right: 'to the right' } as const;

/** A line of its marking; it is not stamped where its text is empty. */
const Line = z.strictObject({
  text: z.string().trim().max(300),
  size: z.number().min(4).max(72),
  align: z.enum(['left', 'centre', 'right']),
  colour: Colour,
});

/** A classification level as it is decided: what it means, how it shows, and where. Which is stronger is kept beside. */
export const LevelContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(80),
  /** As it stands on documents; the name where empty. */
  shown: z.string().trim().max(80),
  /** For those who choose it. */
  means: z.string().trim().max(400),
  /** For stewards. */
  stewards: z.string().trim().max(2000),
  colour: Colour,
  goesOn: z.array(z.enum(['files', 'mail', 'invitations'])),
  lowered: z.enum(['freely', 'with a reason', 'never']),
  top: Line,
  foot: Line,
  across: z.strictObject({
    text: z.string().trim().max(300),
    size: z.number().min(8).max(200),
    /** Degrees against the clock. */
    angle: z.number().min(-90).max(90),
    colour: Colour,
  }),
});
export type LevelContent = z.infer<typeof LevelContent>;

/** A level that nothing was decided of yet but its name. */
export function newLevel(name: string): LevelContent {
  const line = { text: '', size: 10, align: 'centre' as const, colour: '#1c2b33' };
  return {
    name,
    shown: '',
    means: '',
    stewards: '',
    colour: '#5b6b73',
    goesOn: ['files', 'mail'],
    lowered: 'with a reason',
    top: line,
    foot: { ...line, text: '{level}', size: 9 },
    across: { text: '', size: 60, angle: 40, colour: '#c9c3b4' },
  };
}

/** As it is stamped. */
export function stampedLevel(id: string, content: LevelContent): Level {
  const line = ({ text, ...rest }: LevelContent['top']) => (text === '' ? null : { text, ...rest });
  const { text, ...across } = content.across;
  return {
    id,
    name: content.shown || content.name,
    marking: Marking.parse({
      header: line(content.top),
      footer: line(content.foot),
      watermark: text === '' ? null : { text, ...across },
    }),
  };
}

/** An id for a level of this name that is none of those taken. */
export function levelId(name: string, taken: ReadonlySet<string>): string {
  const plain =
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/\p{M}/gu, '')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^[^a-z]+|-+$/g, '')
      .slice(0, 56) || 'level';
  if (!taken.has(plain)) return plain;
  for (let n = 2; ; n++) if (!taken.has(`${plain}-${n}`)) return `${plain}-${n}`;
}
