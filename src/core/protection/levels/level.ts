import { z } from 'zod';
import { Marking } from '../stamp/marking.ts';

/** A classification level, from the one that asks least to the one that asks most. */
export const Level = z.strictObject({
  id: z.string().regex(/^[a-z][a-z0-9-]{0,62}$/, 'Lower-case letters, digits and hyphens, such as internal.'),
  name: z.string().trim().min(1, 'Give it a name.').max(80),
  marking: Marking.prefault({}),
});
export type Level = z.infer<typeof Level>;

/** Levels as a file holds them. */
export const LevelFile = z.strictObject({
  levels: z
    .array(Level)
    .min(1, 'At least one level.')
    .max(50)
    .refine((all) => new Set(all.map((l) => l.id)).size === all.length, 'Two levels have the same id.'),
});

/** What an organisation begins with. */
export const USUAL_LEVELS: readonly Level[] = LevelFile.parse({
  levels: [
    { id: 'open', name: 'Open' },
    {
      id: 'internal',
      name: 'Internal',
      marking: { footer: { text: '{level}', size: 9, colour: '#1c2b33' } },
    },
    {
      id: 'confidential',
      name: 'Confidential',
      marking: {
        header: { text: '{level}', colour: '#8a4b00', align: 'right' },
        footer: { text: '{level} · {file}', size: 9, colour: '#8a4b00' },
      },
    },
    {
      id: 'strictly-confidential',
      name: 'Strictly confidential',
      marking: {
        header: { text: '{level}', colour: '#a5106b', size: 12 },
        footer: { text: '{level} · {owner} · {date}', size: 9, colour: '#a5106b' },
        watermark: { text: '{level}', colour: '#d9a3c2', size: 54 },
      },
    },
  ],
}).levels;

/** The level that is meant by its id or its name, in capitals or not. */
export function levelNamed(levels: readonly Level[], text: string): Level | undefined {
  const plain = text.trim().toLowerCase();
  return levels.find((l) => l.id === plain) ?? levels.find((l) => l.name.toLowerCase() === plain);
}
