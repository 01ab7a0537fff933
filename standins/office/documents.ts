import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Document, HeadingLevel, Packer, Paragraph } from 'docx';

const FIRST: Readonly<Record<string, readonly string[]>> = {
  'Lost property, week 48.docx': [
    'Lost property, week 48',
    'A grey umbrella, found on deck 7. A child’s backpack with a name in it, found at the gate.',
    'Both are kept at the counter until the end of the month.',
  ],
  'Assistance on Friday’s sailing.docx': [
    'Assistance on Friday’s sailing',
    'Two passengers with wheelchairs board first, by the car deck. One of them travels with oxygen.',
    'Passenger care has their names.',
  ],
  'Season plan.docx': [
    'Season plan',
    'From April the 19:40 sails daily. The fares go out in March; until then they stay in the house.',
  ],
};

/** The documents of the office, as files in a folder. */
export class Documents {
  readonly #folder: string;

  constructor(dataDir: string) {
    this.#folder = join(dataDir, 'office');
  }

  /** By name; those it begins with are written where there is none. */
  async list(): Promise<readonly string[]> {
    await mkdir(this.#folder, { recursive: true });
    const names = (await readdir(this.#folder)).filter((n) => n.endsWith('.docx'));
    if (names.length > 0) return names.toSorted();
    for (const [name, [title = '', ...rest]] of Object.entries(FIRST))
      await this.write(
        name,
        await Packer.toBuffer(
          new Document({
            sections: [
              {
                children: [
                  new Paragraph({ text: title, heading: HeadingLevel.HEADING_1 }),
                  ...rest.map((text) => new Paragraph(text)),
                ],
              },
            ],
          }),
        ),
      );
    return Object.keys(FIRST).toSorted();
  }

  /** `undefined` for one that there is not. */
  async read(name: string): Promise<Uint8Array | undefined> {
    return (await this.list()).includes(name)
      ? new Uint8Array(await readFile(join(this.#folder, name)))
      : undefined;
  }

  async write(name: string, bytes: Uint8Array): Promise<void> {
    const beside = join(this.#folder, `.${name}.new`);
    await writeFile(beside, bytes);
    await rename(beside, join(this.#folder, name));
  }
}
