import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { projectFolder } from '../processes/process.ts';
import { NO_DESCRIPTIONS, type Descriptions } from '../../core/accounts/programs/openapi.ts';

let read: Promise<Descriptions> | undefined;

/** What the build wrote of the endpoints; nothing where there was none. */
export function descriptions(): Promise<Descriptions> {
  read ??= readFile(join(projectFolder(), 'dist/descriptions.json'), 'utf8').then(
    (text) => JSON.parse(text) as Descriptions,
    () => NO_DESCRIPTIONS,
  );
  return read;
}
