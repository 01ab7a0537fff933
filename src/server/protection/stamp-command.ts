import { mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { LevelFile, levelNamed, USUAL_LEVELS, type Level } from '../../core/protection/levels/level.ts';
import { filled, UnstampableError } from '../../core/protection/stamp/marking.ts';
import { readFileLevel, stampFile, unstampFile } from '../../core/protection/stamp/stamp-file.ts';
import { wideFont } from '../files/wide-font.ts';
import { asCommand, readArgs, UsageError } from '../processes/command.ts';
import { dayText } from '../../core/text/day.ts';

export const STAMP_HELP = `./yare stamp FILE… --level NAME --out FOLDER

  Stamps copies of documents (DOCX, XLSX, PPTX, ODT, ODS, ODP, PDF) and mail (EML, with invitations in it) with the
  marking of a level, beside what stands there, and writes the level into their properties. What was stamped before goes; stamping twice changes nothing. The files themselves
  are never written.

  --level NAME     the level, by its name or id
  --levels FILE    levels as JSON (docs/stamp.md); by itself Open, Internal, Confidential, Strictly confidential
  --owner NAME     what {owner} stands for
  --remove         takes the marking off instead
  --read           tells the level that each file carries; writes nothing
  --out FOLDER     where the copies go; another folder than that of the files
  --json           a JSON line for each file on standard output

  Ends with 0 when all was done, 1 when a file was refused, 2 when it could not begin.
`;

/** What came of one file. */
interface Done {
  readonly file: string;
  readonly done: 'stamped' | 'taken off' | 'read' | 'refused';
  readonly kind?: string;
  readonly level?: string | null;
  readonly out?: string;
  readonly why?: string;
  readonly words?: string;
}

/** Stamps from the command line; the exit code. */
export function stampCommand(args: readonly string[], now = new Date()): Promise<number> {
  return asCommand(STAMP_HELP, () => run(args, now));
}

const ARGS = {
  allowPositionals: true,
  options: {
    help: { type: 'boolean' },
    level: { type: 'string' },
    levels: { type: 'string' },
    owner: { type: 'string' },
    remove: { type: 'boolean' },
    read: { type: 'boolean' },
    out: { type: 'string' },
    json: { type: 'boolean' },
  },
} as const;

async function run(args: readonly string[], now: Date): Promise<number> {
  const { values, positionals: files } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(STAMP_HELP);
    return 0;
  }
  if (files.length === 0) throw new UsageError('Name at least one file.');
  if (values.read && (values.remove || values.level)) throw new UsageError('--read goes alone.');
  if (!values.read && (values.level === undefined) === !values.remove)
    throw new UsageError('Say --level NAME, or --remove, or --read.');
  const level = values.level === undefined ? undefined : await levelOf(values.level, values.levels);
  const out = values.out;
  if (!values.read && out === undefined) throw new UsageError('Say where the copies go: --out FOLDER.');
  if (out !== undefined) await mkdir(out, { recursive: true });
  const written = new Set<string>();
  let refused = 0;
  for (const file of files) {
    const done = await stampOne(file, { level, owner: values.owner ?? '', out, written, now });
    if (done.done === 'refused') refused++;
    process.stdout.write(values.json ? `${JSON.stringify(done)}\n` : `${inWords(done)}\n`);
  }
  return refused > 0 ? 1 : 0;
}

/** Throws a UsageError for a level that there is not, and an Error that names what is wrong with a file of levels. */
async function levelOf(name: string, file: string | undefined): Promise<Level> {
  let levels: readonly Level[] = USUAL_LEVELS;
  if (file !== undefined) {
    const parsed = LevelFile.safeParse(json(file, await readFile(file, 'utf8')));
    if (!parsed.success)
      throw new Error(
        `${file}: ${parsed.error.issues.map((i) => `${i.path.join('.') || 'file'}: ${i.message}`).join('\n')}`,
      );
    ({ levels } = parsed.data);
  }
  const level = levelNamed(levels, name);
  if (!level)
    throw new UsageError(`There is no level “${name}”. There are: ${levels.map((l) => l.name).join(', ')}.`);
  return level;
}

function json(file: string, text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Error(`${file}: it is no JSON: ${(error as Error).message}`, { cause: error });
  }
}

interface Wish {
  readonly level: Level | undefined;
  readonly owner: string;
  /** Absent where the level is only read. */
  readonly out: string | undefined;
  /** Copies that are there already, of this run. */
  readonly written: Set<string>;
  readonly now: Date;
}

async function stampOne(file: string, { level, owner, out, written, now }: Wish): Promise<Done> {
  const refuse = (why: string, words: string): Done => ({ file, done: 'refused', why, words });
  try {
    const bytes = new Uint8Array(await readFile(file));
    if (out === undefined) return { file, done: 'read', level: (await readFileLevel(bytes))?.name ?? null };
    const to = join(out, basename(file));
    if (resolve(dirname(to)) === resolve(dirname(file)))
      return refuse('in place', 'The copies go to another folder: a file is never written over.');
    if (written.has(to)) return refuse('twice', `Another file of this run is called ${basename(file)}.`);
    const made = level
      ? await stampFile(
          bytes,
          filled(level.marking, {
            level: level.name,
            owner,
            date: dayText(now.toISOString().slice(0, 10)),
            file: basename(file),
          }),
          { id: level.id, name: level.name },
          wideFont(),
        )
      : unstampFile(bytes);
    await writeWhole(to, made.bytes);
    written.add(to);
    return {
      file,
      done: level ? 'stamped' : 'taken off',
      kind: made.kind,
      level: level?.name ?? null,
      out: to,
    };
  } catch (error) {
    if (error instanceof UnstampableError) return refuse(error.why, error.message);
    if ((error as NodeJS.ErrnoException).code !== undefined)
      return refuse('not there', `It cannot be read or written: ${(error as Error).message}.`);
    throw error;
  }
}

/** Written beside, and put in its place once all of it is on the disk. */
async function writeWhole(to: string, bytes: Uint8Array): Promise<void> {
  const beside = `${to}.${process.pid}.new`;
  try {
    const handle = await open(beside, 'wx');
    try {
      await handle.writeFile(bytes);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(beside, to);
  } catch (error) {
    await rm(beside, { force: true });
    throw error;
  }
}

function inWords({ file, done, level, out, words }: Done): string {
  switch (done) {
    case 'refused':
      return `◆ ${file}: ${words ?? ''}`;
    case 'read':
      return `${file}: ${level ?? 'no level'}`;
    case 'stamped':
      return `${file}: ${level ?? ''}, ${out ?? ''}`;
    case 'taken off':
      return `${file}: taken off, ${out ?? ''}`;
  }
}
