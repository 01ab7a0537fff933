/** A sheet of a workbook as rows of text; an empty row stays one. */
export interface Sheet {
  readonly name: string;
  readonly rows: readonly (readonly string[])[];
}

/** How the text of a cell is taken. */
export type CellForm =
  | 'text'
  | 'number'
  /** `yes` or `no`. */
  | 'yes'
  /** Ids, parted by commas, semicolons, spaces or line breaks. */
  | 'ids'
  /** One to a line; a line that begins with two spaces goes on with the one above. */
  | 'lines';

export interface Column {
  readonly heading: string;
  /** Into the file, from the row’s own place: `['test', 'figure']`. */
  readonly path: readonly string[];
  readonly form: CellForm;
  readonly needed: boolean;
  /** What would do, as the end of a sentence. */
  readonly would: string;
}

const column = (
  heading: string,
  path: string,
  form: CellForm,
  would: string,
  needed: boolean = true,
): Column => ({ heading, path: path.split('.'), form, needed, would });

const ID = 'small letters and digits, parted by - or a dot, at most 80';
const DAY = 'a day such as 2026-11-30';

/** Rows of the sheet “Framework”: what stands in column A, and its value in B. */
export const FRAMEWORK_FIELDS: readonly Column[] = [
  column('Id', 'id', 'text', ID),
  column('Version', 'version', 'text', `${DAY}, as of which the text is so`),
  column('Name', 'name', 'text', 'a short name of at most 80 signs'),
  column('Title', 'title', 'text', 'its whole title, of at most 300 signs'),
  column('Issuer', 'issuer', 'text', 'who issued it, in at most 200 signs'),
  column(
    'Regions',
    'regions',
    'ids',
    'codes of ISO 3166 such as DK or US-CA; nothing where it is kept by choice',
    false,
  ),
  column('Covers', 'covers', 'text', 'what of its text is in here, in at most 600 signs'),
  column('Whole', 'whole', 'yes', 'yes or no: whether that is all of it'),
  column('Extends', 'extends.framework', 'text', 'the id of a framework to have all of', false),
  column('Extends version', 'extends.version', 'text', `${DAY}: which version of it`, false),
];

export const SHEETS = {
  families: {
    name: 'Families',
    columns: [
      column('Id', 'id', 'text', ID),
      column('Name', 'name', 'text', 'its name, in at most 120 signs'),
    ],
  },
  controls: {
    name: 'Controls',
    columns: [
      column('Id', 'id', 'text', `${ID}; the same from version to version`),
      column('Family', 'family', 'text', 'the id of a family'),
      column('Reference', 'ref', 'text', 'where the text has it, in at most 120 signs'),
      column('Name', 'name', 'text', 'what it asks, in at most 160 signs'),
      column('Duty', 'duty', 'text', '“required” or “by choice”'),
      column('Kind', 'kind', 'text', '“prevents”, “detects” or “corrects”'),
      column('Risk', 'risk', 'number', 'a whole number from 1, little harm, to 5'),
      column('Guidance', 'guidance', 'text', 'what it comes to, in at most 1,200 signs'),
      column('Measures', 'measures', 'ids', 'ids of 1 to 20 measures that answer it'),
    ],
  },
  takes: {
    name: 'Takes',
    columns: [
      column('Framework', 'framework', 'text', 'the id of a framework'),
      column('Version', 'version', 'text', `${DAY}: which version of it`),
      column('Controls', 'controls', 'ids', 'ids of its controls'),
    ],
  },
  measures: {
    name: 'Measures',
    columns: [
      column('Id', 'id', 'text', `${ID}; none that ships has`),
      column('Name', 'name', 'text', 'what is done, in at most 160 signs'),
      column('Steps', 'steps', 'lines', '1 to 12 steps, one to a line'),
      column('Evidence', 'evidence', 'lines', 'what shows that it is done, 1 to 12, one to a line'),
      column('Hours', 'hours', 'number', 'working hours, more than 0 and at most 2,000'),
      column('Whose', 'whose', 'text', '“ours” or “provider”'),
      column('Where', 'where', 'text', 'a place in the program such as /holdings/records, or nothing', false),
      column('Figure', 'test.figure', 'text', 'the id of a figure of the program', false),
      column('At most', 'test.atMost', 'number', 'a number up to which the figure is right', false),
      column('At least', 'test.atLeast', 'number', 'a number from which the figure is right', false),
      column(
        'Share',
        'test.share',
        'yes',
        '“yes” where the share of what it is out of counts, else nothing',
        false,
      ),
    ],
  },
} as const satisfies Record<string, { readonly name: string; readonly columns: readonly Column[] }>;

export type Part = keyof typeof SHEETS;
export const PARTS_OF_FILE = Object.keys(SHEETS) as readonly Part[];

export const FRAMEWORK_SHEET = 'Framework';
/** A sheet for people, that is not read. */
export const README_SHEET = 'Read me';
