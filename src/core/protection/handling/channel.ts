import { z } from 'zod';

/** The ways on which data is put in motion. */
export const CHANNELS = [
  ...(['removable drive', 'network share', 'printer', 'clipboard', 'remote session'] as const),
  ...(['short range', 'mail', 'web form', 'AI assistant'] as const),
] as const;
export const Channel = z.enum(CHANNELS);
export type Channel = z.infer<typeof Channel>;

/** What somebody does. */
export const ACTS = ['copy', 'move', 'print', 'paste', 'upload', 'send'] as const;
export const MotionAct = z.enum(ACTS);
export type MotionAct = z.infer<typeof MotionAct>;

/** As a sentence says it of a person. */
export const CHANNEL_WORDS: Readonly<Record<Channel, string>> = {
  'removable drive': 'copies or moves to a removable drive',
  'network share': 'copies or moves to a network share',
  printer: 'prints',
  clipboard: 'copies to the clipboard',
  'remote session': 'takes into a remote session',
  'short range': 'sends over short range',
  mail: 'sends by mail',
  'web form': 'puts into a web form',
  'AI assistant': 'gives to an AI assistant',
};

/** The kinds of named groups that rules can use. */
export const GROUP_KINDS = [
  ...(['destinations', 'programs', 'printers', 'drives', 'shares', 'networks', 'paths'] as const),
] as const;
export type GroupKind = (typeof GROUP_KINDS)[number];

/** What a channel leads to, as groups name it; `undefined` where it leads to no place of its own. */
export const LEADS_TO: Readonly<Record<Channel, GroupKind | undefined>> = {
  'removable drive': 'drives',
  'network share': 'shares',
  printer: 'printers',
  clipboard: undefined,
  'remote session': 'destinations',
  'short range': undefined,
  mail: 'destinations',
  'web form': 'destinations',
  'AI assistant': 'destinations',
};
