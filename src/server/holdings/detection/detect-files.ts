import { lstat, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { UsageError } from '../../processes/command.ts';

export interface Found {
  readonly path: string;
  /** As it is told: the path that was given, and what lies below it. */
  readonly shown: string;
  readonly size: number;
}

/** Every file below the paths, in order; links are not followed out of a folder. */
export async function filesOf(paths: readonly string[]): Promise<readonly Found[]> {
  const files: Found[] = [];
  const walk = async (path: string, shown: string): Promise<void> => {
    const info = await lstat(path);
    if (info.isDirectory())
      for (const name of (await readdir(path)).sort()) await walk(join(path, name), join(shown, name));
    else if (info.isFile()) files.push({ path, shown, size: info.size });
  };
  for (const path of paths) {
    const info = await stat(path).catch(() => undefined);
    if (!info) throw new UsageError(`There is no file or folder “${path}”.`);
    if (info.isDirectory()) await walk(path, path);
    else files.push({ path, shown: path, size: info.size });
  }
  return files;
}
