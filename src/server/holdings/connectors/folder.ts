import {
  ItemError,
  SourceError,
  type Connector,
  type Content,
  type ListedItem,
  type Listing,
} from './connector.ts';
import type { Stats } from 'node:fs';
import { isBeside, removeFile, replaceFile, restoreFile } from './replace-file.ts';
import { asItemErrors, FileTree, fileErrorWords, instantOf, ownerOf, versionOf } from './file-tree.ts';

/** A folder of this machine, or one mounted on it: its files are items, its folders places. */
export function folderConnector(root: string): Connector {
  const tree = new FileTree(root);
  return {
    check: () => tree.check(),
    async list(place): Promise<Listing> {
      try {
        const entries = await tree.entries(place);
        return {
          items: entries.flatMap((e) => (e.is === 'file' && !isBeside(e.name) ? [e.name] : [])),
          places: entries.flatMap((e) => (e.is === 'folder' ? [e.name] : [])),
        };
      } catch (error) {
        if (error instanceof SourceError || place === '') throw error;
        return { items: [], places: [], problem: `It was not listed: ${fileErrorWords(error)}.` };
      }
    },
    details: (place, names) => {
      const stat = tree.stats(place);
      return Promise.resolve(
        names.flatMap((name): ListedItem[] => {
          const is = stat(name);
          return is ? [listedAs(name, is)] : [];
        }),
      );
    },
    async read(place, { name }): Promise<Content> {
      try {
        await tree.requireInside(place);
      } catch (error) {
        throw new ItemError(fileErrorWords(error));
      }
      // Between two looks it could have become a pipe, which would never end.
      if (!tree.stat(place, name)) throw new ItemError('it is gone, or no plain file any more');
      return { file: Uint8Array.from(tree.path(place, name)), name };
    },
    replace: (place, { name, version }, bytes) =>
      asItemErrors(async () => listedAs(name, await replaceFile(tree, place, name, version, bytes))),
    remove: (place, { name, version }) =>
      asItemErrors(async () => ({
        method: 'taken out of the file system',
        mark: await removeFile(tree, place, name, version),
      })),
    restore: (place, item, bytes, mark) =>
      asItemErrors(async () =>
        listedAs(item.name, await restoreFile(tree, place, item.name, bytes, item, mark)),
      ),
    add: (place, item, bytes) =>
      asItemErrors(async () => {
        await tree.make(place);
        return listedAs(item.name, await restoreFile(tree, place, item.name, bytes, item, null));
      }),
    close: () => Promise.resolve(),
  };
}

function listedAs(name: string, is: Stats): ListedItem {
  return {
    name,
    size: is.size,
    created: is.birthtimeMs > 0 ? instantOf(Math.min(is.birthtimeMs, is.mtimeMs)) : null,
    changed: instantOf(is.mtimeMs),
    owner: ownerOf(is),
    version: versionOf(is),
  };
}
