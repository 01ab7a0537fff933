import { readdir, readFile } from 'node:fs/promises';

export interface Process {
  readonly pid: number;
  readonly parent: number;
  /** Held in memory. */
  readonly bytes: number;
  readonly threads: number;
}

const PAGE_BYTES = 4096;

/** How a process was started; empty where it is gone. */
export async function commandOf(pid: number): Promise<string> {
  return (await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '')).replaceAll('\0', ' ');
}

/** All that run now, as proc(5) tells. */
export async function processes(): Promise<readonly Process[]> {
  const names = (await readdir('/proc').catch(() => [])).filter((n) => /^\d+$/.test(n));
  const read = await Promise.all(
    names.map(async (name): Promise<Process | undefined> => {
      const stat = await readFile(`/proc/${name}/stat`, 'utf8').catch(() => undefined);
      if (stat === undefined) return undefined;
      // proc(5): the fields after the name, which may hold anything, from the third on.
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
      return {
        pid: Number(name),
        parent: Number(fields[1]),
        threads: Number(fields[17]),
        bytes: Number(fields[21]) * PAGE_BYTES,
      };
    }),
  );
  return read.filter((p) => p !== undefined);
}

/** A process and all that came of it. */
export function family(all: readonly Process[], root: number): readonly Process[] {
  const children = new Map<number, Process[]>();
  for (const p of all) children.set(p.parent, [...(children.get(p.parent) ?? []), p]);
  const found: Process[] = all.filter((p) => p.pid === root);
  for (let i = 0; i < found.length; i++) found.push(...(children.get((found[i] as Process).pid) ?? []));
  return found;
}
