import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { z } from 'zod';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { DetectorFile, readDetectorFile, writeDetectorFile } from './detector-file.ts';

it('brings detectors back as they were written', () => {
  expect(readDetectorFile(writeDetectorFile(builtInDetectors()))).toEqual(builtInDetectors());
});

it('names each field at fault', () => {
  expect(() => readDetectorFile('{')).toThrow('This is no JSON');
  try {
    readDetectorFile(
      JSON.stringify({
        format: 'yare-warden/detectors',
        version: 1,
        detectors: [{ kind: 'pattern', id: 'ok-id', name: 'x', anchor: { by: 'pattern', pattern: '' } }],
      }),
    );
    expect.unreachable();
  } catch (error) {
    expect((error as { fields: { field: string }[] }).fields.map((f) => f.field)).toEqual([
      'detectors.0.anchor.pattern',
    ]);
  }
});

it('is what the documented schema says', async () => {
  const documented = JSON.parse(
    await readFile(join(import.meta.dirname, '../../../../../docs/detector.schema.json'), 'utf8'),
  ) as unknown;
  expect(documented).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(DetectorFile, { io: 'input' }))));
});
