import { z } from 'zod';
import { PurposeCode } from './purpose-code.ts';

const Text = (name: string, most: number) =>
  z.string().trim().max(most, `${name} can have ${most} characters at most`);

const PurposeText = z.strictObject({
  name: Text('A purpose’s name', 60),
  text: Text('A purpose’s text', 400),
});

export const NoticeText = z.strictObject({
  title: Text('The title', 120),
  body: Text('The text', 1200),
  accept: Text('The allowing button', 40),
  refuse: Text('The refusing button', 40),
  choose: Text('The choosing button', 40),
  save: Text('The saving button', 40),
  reopen: Text('The link that opens it again', 40),
  purposes: z.record(PurposeCode, PurposeText),
});
export type NoticeText = z.infer<typeof NoticeText>;

export const EMPTY_TEXT: NoticeText = {
  ...{ title: '', body: '', accept: '', refuse: '', choose: '', save: '', reopen: '' },
  purposes: {},
};
