import type { FrameworkFile } from '../../../core/obligations/framework/framework-file.ts';
import { SAMPLE_FRAMEWORK } from '../../../core/obligations/framework/sample-framework.ts';
import { workbookOf } from '../../../core/obligations/framework/workbook/write-workbook.ts';
import { oscalOf } from '../../../core/obligations/oscal/write-framework.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { writeSheets } from '../../files/workbook-sheets.ts';
import { XLSX } from '../../holdings/offers.ts';
import { attachment } from '../../http/attachment.ts';
import { frameworkLibrary } from './own-frameworks.ts';

export const FRAMEWORK_FORMS = ['json', 'xlsx', 'oscal'] as const;
export type FrameworkForm = (typeof FRAMEWORK_FORMS)[number];

/** A framework as the file that was taken in, in any of its forms. Throws a RefusedError (404). */
export async function exportFramework(
  { store, now }: Context,
  id: string,
  version: string | undefined,
  form: FrameworkForm,
): Promise<Response> {
  const library = await frameworkLibrary(store);
  const framework = library.framework(id, version);
  if (!framework) throw notFound('framework');
  const file = library.file(id, framework.version) ?? framework;
  const name = `${file.id}-${file.version}`;
  if (form === 'xlsx') return asWorkbook(`${name}.xlsx`, file);
  if (form === 'json') return attachment(`${name}.json`, 'application/json', JSON.stringify(file, null, 2));
  const oscal = oscalOf(file, now(), (text) => Buffer.from(text).toString('base64'));
  return attachment(`${name}.oscal.json`, 'application/oscal+json', JSON.stringify(oscal, null, 2));
}

/** A workbook to fill in, for a framework that has all of this one and more. Throws a RefusedError (404). */
export async function extendingWorkbook({ store, now }: Context, id: string): Promise<Response> {
  const base = (await frameworkLibrary(store)).framework(id);
  if (!base) throw notFound('framework');
  const file: FrameworkFile = {
    ...{
      format: 'yare-framework-1',
      id: `our-${base.id}`.slice(0, 80),
      version: now().toISOString().slice(0, 10),
    },
    ...{
      name: `${base.name} and ours`.slice(0, 80),
      title: `${base.title}, and what we ask besides`.slice(0, 300),
    },
    ...{ issuer: 'We', regions: base.regions, whole: base.whole },
    covers: `All of ${base.name} as of ${base.version}, and what we ask besides.`,
    extends: { framework: base.id, version: base.version },
    ...{ families: [], controls: [] },
  };
  return asWorkbook(`${file.id}.xlsx`, file);
}

export function sampleWorkbook(): Promise<Response> {
  return asWorkbook('framework-sample.xlsx', SAMPLE_FRAMEWORK);
}

const asWorkbook = async (name: string, file: FrameworkFile): Promise<Response> =>
  attachment(name, XLSX, await writeSheets(workbookOf(file)));
