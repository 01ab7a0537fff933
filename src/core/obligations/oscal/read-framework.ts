import { z } from 'zod';
import { BackMatter, idOf, Metadata, Props, said, saidOnce, type Prop } from './oscal.ts';

interface OscalPart {
  readonly name: string;
  readonly title?: string | undefined;
  readonly prose?: string | undefined;
  readonly parts?: readonly OscalPart[] | undefined;
}
const Part: z.ZodType<OscalPart> = z.lazy(() =>
  z.looseObject({
    name: z.string().max(200),
    title: z.string().max(2000).optional(),
    prose: z.string().max(200_000).optional(),
    parts: z.array(Part).max(5000).optional(),
  }),
) as z.ZodType<OscalPart>;

interface OscalControl {
  readonly id: string;
  readonly title: string;
  readonly props: readonly Prop[];
  readonly parts: readonly OscalPart[];
  readonly controls: readonly OscalControl[];
}
const Control: z.ZodType<OscalControl> = z.lazy(() =>
  z.looseObject({
    id: z.string().max(200),
    title: z.string().max(2000),
    props: Props,
    parts: z.array(Part).max(5000).default([]),
    controls: z.array(Control).max(5000).default([]),
  }),
) as z.ZodType<OscalControl>;

interface OscalGroup {
  readonly id?: string | undefined;
  readonly title: string;
  readonly props: readonly Prop[];
  readonly groups: readonly OscalGroup[];
  readonly controls: readonly OscalControl[];
}
const Group: z.ZodType<OscalGroup> = z.lazy(() =>
  z.looseObject({
    id: z.string().max(200).optional(),
    title: z.string().max(2000),
    props: Props,
    groups: z.array(Group).max(1000).default([]),
    controls: z.array(Control).max(5000).default([]),
  }),
) as z.ZodType<OscalGroup>;

const Catalog = z.looseObject({
  uuid: z.string(),
  metadata: Metadata,
  groups: z.array(Group).max(1000).default([]),
  controls: z.array(Control).max(5000).default([]),
  'back-matter': BackMatter.default({ resources: [] }),
});

const Profile = z.looseObject({
  uuid: z.string(),
  metadata: Metadata,
  imports: z
    .array(
      z.looseObject({
        href: z.string().max(2000),
        'include-all': z.looseObject({}).optional(),
        'include-controls': z
          .array(z.looseObject({ 'with-ids': z.array(z.string().max(200)).default([]) }))
          .optional(),
      }),
    )
    .min(1),
  'back-matter': BackMatter.default({ resources: [] }),
});

/** What an OSCAL document holds as a framework file, still to be checked as one; and what it left unsaid. */
export interface ReadOscal {
  readonly value: unknown;
  readonly notes: readonly string[];
}

/** Whether a JSON value is an OSCAL catalog or profile. */
export function isOscal(value: unknown): boolean {
  return typeof value === 'object' && value !== null && ('catalog' in value || 'profile' in value);
}

/**
 * Reads a catalog or a profile of OSCAL 1.1. Throws an Error that says where it is none. What a catalog of others does not
 * say (duty, kind, risk) is taken as usual, and told; measures it has none.
 */
export function readOscal(value: unknown, fromBase64: (text: string) => string): ReadOscal {
  const { catalog, profile } = value as { readonly catalog?: unknown; readonly profile?: unknown };
  if (catalog !== undefined) return readCatalog(parsed(Catalog, catalog, 'catalog'));
  return readProfile(parsed(Profile, profile, 'profile'), fromBase64);
}

function parsed<T>(schema: z.ZodType<T>, value: unknown, name: string): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw new Error(`It is no OSCAL ${name}: ${[name, ...(issue?.path ?? [])].join('.')}: ${issue?.message}`);
}

function readProfile(
  { metadata, imports, 'back-matter': back }: z.infer<typeof Profile>,
  fromBase64: (text: string) => string,
): ReadOscal {
  const notes: string[] = [];
  let own: Record<string, unknown> = { families: [], controls: [] };
  let base: object | undefined;
  const takes: object[] = [];
  for (const [i, imported] of imports.entries()) {
    const at = `profile.imports.${i}`;
    const resource = back.resources.find((r) => `#${r.uuid}` === imported.href);
    if (!resource) throw new Error(`${at}: there is no resource ${imported.href} in it.`);
    if (resource.base64) {
      const inner = JSON.parse(fromBase64(resource.base64.value)) as { readonly catalog?: unknown };
      const read = readCatalog(parsed(Catalog, inner.catalog, 'catalog'));
      own = read.value as Record<string, unknown>;
      notes.push(...read.notes);
      continue;
    }
    const framework = saidOnce(resource.props, 'framework');
    const version = saidOnce(resource.props, 'framework-version');
    if (framework === undefined || version === undefined)
      throw new Error(`${at}: it does not say which framework ${resource.title ?? imported.href} is.`);
    const ids = imported['include-controls']?.flatMap((c) => c['with-ids']).map(idOf);
    if (ids) takes.push({ framework, version, controls: ids });
    else if (base) throw new Error(`${at}: all of two frameworks cannot be had; name the controls of one.`);
    else base = { framework, version };
  }
  return {
    value: {
      ...own,
      ...headOf(metadata),
      ...(base ? { extends: base } : {}),
      ...(takes.length > 0 ? { takes } : {}),
    },
    notes,
  };
}

function headOf(metadata: z.infer<typeof Metadata>): Record<string, unknown> {
  const of = (name: string) => saidOnce(metadata.props, name);
  const creators = metadata['responsible-parties'].find((r) => r['role-id'] === 'creator')?.['party-uuids'];
  const issuer = metadata.parties.find((p) => creators?.includes(p.uuid)) ?? metadata.parties[0];
  return {
    format: 'yare-framework-1',
    id: of('id') ?? slug(metadata.title),
    version: /^\d{4}-\d\d-\d\d$/.test(metadata.version)
      ? metadata.version
      : metadata['last-modified'].slice(0, 10),
    name: of('name') ?? metadata.title.slice(0, 80),
    title: of('title') ?? metadata.title.slice(0, 300),
    issuer: of('issuer') ?? issuer?.name ?? 'not said',
    regions: [...said(metadata.props, 'region')],
    covers: of('covers') ?? `What the catalog of version ${metadata.version} has.`,
    whole: of('whole') !== 'no',
  };
}

function readCatalog({
  metadata,
  groups,
  controls,
  'back-matter': back,
}: z.infer<typeof Catalog>): ReadOscal {
  const families: { id: string; name: string }[] = [];
  const found: { place: number; control: Record<string, unknown> }[] = [];
  let unsaid = 0;
  const walkControls = (all: readonly OscalControl[], family: string): void => {
    for (const c of all) {
      const once = (name: string) => saidOnce(c.props, name);
      const [duty, kind, risk] = [once('duty'), once('kind'), once('risk')];
      const label = c.props.find((p) => p.name === 'label')?.value;
      const withdrawn = c.props.some((p) => p.name === 'status' && p.value === 'withdrawn');
      if (!withdrawn && (duty === undefined || kind === undefined || risk === undefined)) unsaid++;
      if (!withdrawn)
        found.push({
          place: Number(once('place') ?? found.length),
          control: {
            id: idOf(c.id).toLowerCase(),
            family: once('family') ?? family,
            ref: once('reference') ?? label ?? c.id,
            name: once('name') ?? c.title.slice(0, 160),
            duty: duty ?? 'required',
            kind: kind ?? 'prevents',
            risk: Number(risk ?? 3),
            guidance: guidanceOf(c),
            measures: [...said(c.props, 'measure')],
          },
        });
      walkControls(c.controls, family);
    }
  };
  const walkGroups = (all: readonly OscalGroup[], above: string): void => {
    for (const g of all) {
      const title = saidOnce(g.props, 'name') ?? g.title;
      const name = above === '' ? title : `${above}: ${title}`.slice(0, 120);
      const id = g.id === undefined ? slug(name) : idOf(g.id).toLowerCase();
      // A group that only holds groups is part of their names.
      if (g.groups.length === 0 || g.controls.length > 0) families.push({ id, name });
      walkControls(g.controls, id);
      walkGroups(g.groups, name);
    }
  };
  walkGroups(groups, '');
  const grouped = found.length;
  walkControls(controls, 'all');
  if (found.slice(grouped).some((f) => f.control['family'] === 'all'))
    families.push({ id: 'all', name: 'All' });
  const measures = back.resources.flatMap((r) => measureOf(r));
  return {
    value: {
      ...headOf(metadata),
      families,
      controls: found.sort((a, b) => a.place - b.place).map((f) => f.control),
      ...(measures.length > 0 ? { measures } : {}),
    },
    notes:
      unsaid === 0
        ? []
        : [
            `Of ${unsaid} controls it does not say duty, kind or risk: they are taken as required, prevents and 3.`,
          ],
  };
}

/** Our own guidance as it stands; of others the statement, with what it inserts left open, then the guidance. */
function guidanceOf(c: OscalControl): string {
  const [only] = c.parts;
  if (only && c.parts.length === 1 && only.name === 'guidance' && !only.parts?.length)
    return only.prose ?? '';
  const proseOf = (p: OscalPart): string =>
    [p.prose ?? '', ...(p.parts ?? []).map(proseOf)].filter((t) => t !== '').join(' ');
  const all = ['statement', 'guidance'].flatMap((name) =>
    c.parts.filter((p) => p.name === name).map((p) => proseOf(p)),
  );
  const text = all
    .join(' ')
    .replace(/\{\{\s*insert:\s*param,\s*([^}\s]+)\s*\}\}/g, '[$1]')
    .trim();
  return text.length > 1200 ? `${text.slice(0, 1199)}…` : text;
}

function measureOf({ props }: { readonly props: readonly Prop[] }): readonly Record<string, unknown>[] {
  const once = (name: string) => saidOnce(props, name);
  const id = once('measure');
  if (id === undefined) return [];
  const number = (name: string) => {
    const text = once(name);
    return text === undefined ? {} : { [name.replace('test-', '')]: Number(text) };
  };
  const figure = once('test-figure');
  return [
    {
      id,
      name: once('name'),
      steps: [...said(props, 'step')],
      evidence: [...said(props, 'evidence')],
      hours: Number(once('hours')),
      whose: once('whose'),
      ...(once('where') === undefined ? {} : { where: once('where') }),
      ...(figure === undefined
        ? {}
        : {
            test: {
              figure,
              ...number('test-atMost'),
              ...number('test-atLeast'),
              ...(once('test-share') === 'true' ? { share: true } : {}),
            },
          }),
    },
  ];
}

/** An id of what has none. */
function slug(words: string): string {
  const made = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60);
  return made.replace(/-$/, '') || 'catalog';
}
