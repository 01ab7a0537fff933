import { expect, it } from 'vitest';
import { recipientsOf } from './ActivitySheet.tsx';

it.each([
  ['', []],
  [
    'Lookwell Ltd | US | standard clauses',
    [{ name: 'Lookwell Ltd', country: 'US', safeguard: 'standard clauses' }],
  ],
  [
    'the crew office\nTarn | GB',
    [
      { name: 'the crew office', country: '', safeguard: 'none' },
      { name: 'Tarn', country: 'GB', safeguard: 'none' },
    ],
  ],
  ['Tarn | Great Britain', undefined],
  ['Tarn | US | a promise', undefined],
  ['| US', undefined],
])('%j reads as recipients', (typed, recipients) => expect(recipientsOf(typed)).toEqual(recipients));
