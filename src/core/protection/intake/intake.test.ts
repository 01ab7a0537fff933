import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ActivityEvent } from '../activity/event.ts';
import { fromOcsf } from './ocsf.ts';
import { fromSyslog, OctetFrames } from './syslog.ts';

const ID = { id: 'ab'.repeat(16) };
const TIME = Date.parse('2026-11-20T08:00:00.000Z');

describe('an event of OCSF', () => {
  it.each<[string, object, object]>([
    [
      'a logon',
      { class_uid: 3002, activity_id: 1, status_id: 1, user: { email_addr: 'Ann@Line.example' } },
      { kind: 'sign-in', act: 'sign in', person: 'ann@line.example' },
    ],
    [
      'a logon that failed',
      { class_uid: 3002, activity_id: 1, status_id: 2, user: { name: 'ann' } },
      { act: 'fail to sign in', person: 'ann' },
    ],
    [
      'a file that was opened',
      {
        ...{ class_uid: 1001, activity_id: 14, actor: { user: { email_addr: 'ann@line.example' } } },
        file: { path: '/port/lists/a.xlsx', size: 120 },
      },
      { kind: 'source', act: 'open', item: { name: 'a.xlsx', origin: '/port/lists/a.xlsx', size: 120 } },
    ],
    [
      'a file on a share that was deleted',
      {
        class_uid: 4010,
        activity_id: 4,
        actor: { user: { name: 'ann' } },
        file: { name: 'b.docx', size: -3 },
      },
      { act: 'delete', item: { name: 'b.docx', size: 0 } },
    ],
    [
      'a mail',
      {
        class_uid: 4009,
        activity_id: 1,
        email: { from: 'Ann <ann@line.example>', to: ['Bo <bo@x.example>'], size: 9 },
      },
      { kind: 'mail', act: 'send', channel: 'mail', towards: ['bo@x.example'], person: 'ann@line.example' },
    ],
  ])('is %s', (_, value, event) => {
    const read = fromOcsf({ time: TIME, ...value });
    if ('why' in read) throw new Error(read.why);
    expect(ActivityEvent.parse({ ...ID, ...read.event })).toMatchObject({
      at: '2026-11-20T08:00:00.000Z',
      ...event,
    });
  });

  it.each<[unknown, RegExp]>([
    [[], /expected object/i],
    [{ class_uid: 3002, activity_id: 1, time: TIME }, /who/],
    [{ class_uid: 3002, activity_id: 2, time: TIME, user: { name: 'a' } }, /logon/],
    [{ class_uid: 1001, activity_id: 1, time: TIME, user: { name: 'a' } }, /read \(2\)/],
    [{ class_uid: 9, activity_id: 1, time: TIME, user: { name: 'a' } }, /class_uid: 9/],
    [{ class_uid: 3002, activity_id: 1, time: 9e99, user: { name: 'a' } }, /no time/],
  ])('is none: %o', (value, why) =>
    expect(fromOcsf(value)).toMatchObject({ why: expect.stringMatching(why) as string }),
  );
});

const MESSAGE = (element: string, head = '<134>1 2026-11-20T09:00:00.5+01:00 files app 12 ACT') =>
  `${head} ${element} free text`;

describe('a message of syslog', () => {
  it('tells of an act, with what was found and never the text beside it', () => {
    const read = fromSyslog(
      MESSAGE(
        '[origin ip="10.0.0.1"][activity@32473 token="yp_x" kind="source" act="open" person="ann@line.example" name="a \\"b\\".xlsx" size="12" found="iban:3:0.8" found="email:1"]',
      ),
    );
    if ('why' in read) throw new Error(read.why);
    expect(read.token).toBe('yp_x');
    expect(ActivityEvent.parse({ ...ID, ...read.event })).toMatchObject({
      ...{
        at: '2026-11-20T08:00:00.500Z',
        kind: 'source',
        act: 'open',
        item: { name: 'a "b".xlsx', size: 12 },
      },
      findings: [
        { detector: 'iban', matches: 3, confidence: 0.8 },
        { detector: 'email', matches: 1, confidence: 1 },
      ],
    });
    expect(JSON.stringify(read)).not.toContain('free text');
  });

  it.each<[string, RegExp]>([
    ['hello', /no message/],
    [MESSAGE('-'), /tells of no act/],
    [MESSAGE('[x@1 a="b"]'), /tells of no act/],
    [MESSAGE('[activity@32473 a="b'), /no end/],
    [MESSAGE('[activity@32473 a=b]'), /none/],
    [MESSAGE('[activity@32473 a="b"'), /none/],
    [MESSAGE('[activity@32473 a="b"x'), /no end/],
    [MESSAGE('[activity@32473 a="b]"]'), /none/],
    [MESSAGE('[activity@32473 a="b"]', '<999>1 2026-11-20T09:00:00Z h a 1 m'), /priority/],
    [MESSAGE('[activity@32473 a="b"]', '<1>1 yesterday h a 1 m'), /time/],
    [MESSAGE('[activity@32473 a="b"]', '<1>1 2026-13-45T09:00:00Z h a 1 m'), /time/],
  ])('is none: %s', (message, why) =>
    expect(fromSyslog(message)).toMatchObject({ why: expect.stringMatching(why) as string }),
  );

  it('gives back every value that was written as the standard has it', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (value) => {
        const escaped = value.replace(/["\\\]]/g, (c) => `\\${c}`);
        const read = fromSyslog(MESSAGE(`[activity@32473 token="${escaped}" act="open"]`));
        expect(read).toMatchObject({ token: value });
      }),
    ));

  it('never throws, whatever it is', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.string().map((s) => MESSAGE(`[activity@32473${s}`)),
        ),
        (text) => {
          fromSyslog(text);
        },
      ),
    ));
});

describe('a stream of messages', () => {
  const framed = (messages: readonly string[]) =>
    Buffer.concat(
      messages.map((m) => Buffer.concat([Buffer.from(`${Buffer.byteLength(m)} `), Buffer.from(m)])),
    );

  it('is cut where its counts say, in whatever pieces it arrives', () =>
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 40 }), { maxLength: 8 }),
        fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 40 }),
        (messages, sizes) => {
          const bytes = framed(messages);
          const frames = new OctetFrames(1000);
          const found: string[] = [];
          for (let at = 0, i = 0; at < bytes.length; i++) {
            const size = sizes[i % sizes.length] ?? 1;
            found.push(...frames.add(bytes.subarray(at, at + size)));
            at += size;
          }
          expect(found).toEqual(messages);
        },
      ),
    ));

  it.each(['x 1', '0 ', '99999999999 x', '2000 x', ' a'])('is none: %s', (text) =>
    expect(() => new OctetFrames(1000).add(Buffer.from(text))).toThrow(RangeError),
  );
});
