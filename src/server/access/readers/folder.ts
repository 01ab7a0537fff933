import { realpath } from 'node:fs/promises';
import { folderLines, FolderError, machineAccounts } from '../posix/read-folder.ts';
import { writeList } from '../posix/write-list.ts';
import { ReaderError, StepRefused, type AccessReader } from './reader.ts';

/** Mode bits and lists of a folder of Holdings, with the accounts of this machine. */
export function folderReader(
  root: string,
  { id, name }: { readonly id: number; readonly name: string },
): AccessReader {
  return {
    async *lines(signal) {
      const real = await realpath(root).catch(() => root);
      const top = `${name}:${real}`;
      try {
        for (const line of await machineAccounts()) yield { line };
        for await (const line of folderLines(root, name)) {
          signal.throwIfAborted();
          yield line.type === 'place' ? { line, holds: holdsOf(line.id, top, id) } : { line };
        }
      } catch (error) {
        if (error instanceof FolderError) throw new ReaderError(error.message);
        throw error;
      }
    },
    apply(_id, step) {
      if (step.is !== 'list') throw new StepRefused('a folder knows mode bits and lists alone');
      return writeList(root, step.place.slice(name.length + 1), step);
    },
    close: () => Promise.resolve(),
  };
}

/** Folders above the source hold nothing of it. */
function holdsOf(id: string, top: string, source: number): string | null {
  if (id === top) return String(source);
  return id.startsWith(`${top}/`) ? `${source}/${id.slice(top.length + 1)}` : null;
}
