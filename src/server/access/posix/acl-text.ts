/** What `getfacl --numeric` tells of one file. */
export interface ListedAcl {
  readonly path: Buffer;
  readonly uid: number;
  readonly gid: number;
  /** As they stand, without what counts for what is made later. */
  readonly acl: readonly string[];
}

/** The lists in the output of `getfacl --numeric --absolute-names`, piece by piece. */
export class AclText {
  #rest = '';
  #path: Buffer | undefined;
  #uid = -1;
  #gid = -1;
  #acl: string[] = [];

  /** @param text bytes as Latin-1, so that no name is changed. */
  next(text: string, isLast: boolean): readonly ListedAcl[] {
    const lines = (this.#rest + text).split('\n');
    this.#rest = isLast ? '' : (lines.pop() ?? '');
    const done: ListedAcl[] = [];
    for (const line of isLast ? [...lines, ''] : lines) {
      if (line === '') {
        if (this.#path) done.push({ path: this.#path, uid: this.#uid, gid: this.#gid, acl: this.#acl });
        this.#path = undefined;
        this.#acl = [];
      } else if (line.startsWith('# file: ')) this.#path = unescaped(line.slice('# file: '.length));
      else if (line.startsWith('# owner: ')) this.#uid = Number(line.slice('# owner: '.length));
      else if (line.startsWith('# group: ')) this.#gid = Number(line.slice('# group: '.length));
      else if (!line.startsWith('#') && !line.startsWith('default:'))
        this.#acl.push((line.split('\t')[0] ?? '').trim());
    }
    return done;
  }
}

/** Signs that would end a line, and others, stand as `\012`. */
function unescaped(text: string): Buffer {
  return Buffer.from(
    text.replace(/\\([0-7]{3}|\\)/g, (_, code: string) =>
      code === '\\' ? '\\' : String.fromCharCode(parseInt(code, 8)),
    ),
    'latin1',
  );
}
