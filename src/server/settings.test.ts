import { expect, it } from 'vitest';
import { readSettings } from './settings.ts';

const SECRET_KEY = 'ab'.repeat(32);

it('names each variable that will not do, and what it takes', () => {
  expect(() => readSettings({ SECRET_KEY, WEB_PORT: '70000', REGION_DEFAULT: 'Denmark' })).toThrow(
    'WEB_PORT: WEB_PORT takes a port from 1 to 65535\nREGION_DEFAULT: REGION_DEFAULT looks like DK or US-CA',
  );
});

it('invents no secret', () => {
  expect(() => readSettings({})).toThrow('SECRET_KEY is missing');
  expect(() => readSettings({ SECRET_KEY: '' })).toThrow('SECRET_KEY is missing');
  expect(() => readSettings({ SECRET_KEY: 'short' })).toThrow('64 hexadecimal digits');
  expect(readSettings({ SECRET_KEY })).toMatchObject({ SECRET_KEY, WEB_PORT: 8730 });
});

it('takes empty variables as none, and origins without their last slash', () => {
  expect(readSettings({ SECRET_KEY, WEB_ORIGIN: 'https://desk.example/', VISITOR_PORT: '' })).toMatchObject({
    WEB_ORIGIN: 'https://desk.example',
    VISITOR_ORIGIN: 'http://localhost:8731',
  });
});
