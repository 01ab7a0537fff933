import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { RequestError } from '../desk/request-error.ts';
import { draftFaults } from './draft-faults.ts';

const Content = z.object({
  name: z.string().min(1, 'Give it a name.'),
  parts: z.array(z.object({ text: z.string().max(3, 'Too long.') })),
});

describe('the faults of a draft', () => {
  it('stand at their path, and at what it is part of', () => {
    const wrong = draftFaults(Content, {
      content: { name: 'A', parts: [{ text: 'yes' }, { text: 'no, long' }] },
      error: undefined,
    });
    expect(wrong(['parts', '1', 'text'])).toBe('Too long.');
    expect(wrong(['parts'])).toBe('Too long.');
    expect(wrong(['parts', '0'])).toBeUndefined();
    expect(wrong(['name'])).toBeUndefined();
  });

  it('are what the save was refused for, where the schema finds none', () => {
    const fields = [{ field: 'name', message: 'Another has this name.' }];
    const error = new RequestError(409, { error: 'Not saved.', fields });
    const of = (name: string) => draftFaults(Content, { content: { name, parts: [] }, error });
    expect(of('A')(['name'])).toBe('Another has this name.');
    expect(of('')(['name'])).toBe('Give it a name.');
    expect(of('A')(['parts'])).toBeUndefined();
  });
});
