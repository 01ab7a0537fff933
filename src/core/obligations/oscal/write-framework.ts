import type { Control, Family, Framework, Measure } from '../framework/framework.ts';
import type { FrameworkFile } from '../framework/framework-file.ts';
import { instantOf, OSCAL_VERSION, prop, tokenOf, uuidOf, type Prop } from './oscal.ts';

/**
 * A framework as an OSCAL document, as of an instant: a catalog, or, where it takes from others, a profile that has its own
 * controls as a catalog within it. `readOscal` reads both back to the same. Base64 is the caller’s.
 */
export function oscalOf(file: FrameworkFile, at: Date, toBase64: (text: string) => string): object {
  const name = `${file.id} ${file.version}`;
  if (!file.extends && !file.takes?.length)
    return { catalog: catalogOf(file, `catalog ${name}`, metadataOf(file, at)) };
  const own = uuidOf(`own ${name}`);
  const catalog = { catalog: catalogOf(file, `own catalog ${name}`, metadataOf(file, at)) };
  const others = [
    ...(file.extends ? [{ ...file.extends, controls: null }] : []),
    ...(file.takes ?? []).map((t) => ({ ...t })),
  ];
  return {
    profile: {
      uuid: uuidOf(`profile ${name}`),
      metadata: metadataOf(file, at),
      imports: [
        // Its own come first: of two of one id the first counts.
        { href: `#${own}`, 'include-all': {} },
        ...others.map((o, i) => ({
          href: `#${uuidOf(`import ${i} ${name}`)}`,
          ...(o.controls
            ? { 'include-controls': [{ 'with-ids': o.controls.map(tokenOf) }] }
            : { 'include-all': {} }),
        })),
      ],
      merge: { combine: { method: 'use-first' }, 'as-is': true },
      'back-matter': {
        resources: [
          {
            uuid: own,
            title: `What ${file.name} asks besides`,
            base64: {
              filename: `${file.id}-own.json`,
              'media-type': 'application/oscal+json',
              value: toBase64(JSON.stringify(catalog)),
            },
          },
          ...others.map((o, i) => ({
            uuid: uuidOf(`import ${i} ${name}`),
            title: `${o.framework} as of ${o.version}`,
            props: [prop('framework', o.framework), prop('framework-version', o.version)],
            rlinks: [{ href: `${o.framework}-${o.version}.json`, 'media-type': 'application/oscal+json' }],
          })),
        ],
      },
    },
  };
}

function metadataOf(file: Omit<Framework, 'controls' | 'families'>, at: Date) {
  const issuer = uuidOf(`issuer ${file.issuer}`);
  return {
    title: file.title.replace(/\s+/g, ' '),
    'last-modified': instantOf(at),
    version: file.version,
    'oscal-version': OSCAL_VERSION,
    props: [
      ...[
        prop('id', file.id),
        prop('name', file.name),
        prop('title', file.title),
        prop('covers', file.covers),
      ],
      ...[prop('whole', file.whole ? 'yes' : 'no'), prop('issuer', file.issuer)],
      ...file.regions.map((r) => prop('region', r)),
    ],
    roles: [{ id: 'creator', title: 'Who issued it' }],
    parties: [{ uuid: issuer, type: 'organization', name: file.issuer.replace(/\s+/g, ' ') }],
    'responsible-parties': [{ 'role-id': 'creator', 'party-uuids': [issuer] }],
  };
}

function catalogOf(file: FrameworkFile, name: string, metadata: object) {
  const inNone = file.controls.filter((c) => !file.families.some((f) => f.id === c.family));
  const order = new Map(file.controls.map((c, i) => [c.id, i]));
  const controlOf = (c: Control) => oscalControl(c, order.get(c.id) ?? 0);
  const measures = (file.measures ?? []).map(oscalMeasure);
  const groups = file.families.map((f) => ({
    ...oscalGroup(f),
    ...nonEmpty('controls', file.controls.filter((c) => c.family === f.id).map(controlOf)),
  }));
  return {
    uuid: uuidOf(name),
    metadata,
    ...nonEmpty('controls', inNone.map(controlOf)),
    ...nonEmpty('groups', groups),
    ...(measures.length === 0 ? {} : { 'back-matter': { resources: measures } }),
  };
}

/** OSCAL knows no empty lists. */
const nonEmpty = (name: string, list: readonly object[]) => (list.length === 0 ? {} : { [name]: list });

const oscalGroup = ({ id, name }: Family) => ({
  id: tokenOf(id),
  title: name.replace(/\s+/g, ' '),
  ...(/\n/.test(name) || name !== name.replace(/\s+/g, ' ') ? { props: [prop('name', name)] } : {}),
});

function oscalControl(c: Control, place: number) {
  const label: Prop = { name: 'label', value: c.ref.replace(/\s+/g, ' ') };
  return {
    id: tokenOf(c.id),
    title: c.name.replace(/\s+/g, ' '),
    props: [
      label,
      ...[prop('place', place), prop('family', c.family), prop('reference', c.ref), prop('name', c.name)],
      ...[prop('duty', c.duty), prop('kind', c.kind), prop('risk', c.risk)],
      ...c.measures.map((m) => prop('measure', m)),
    ],
    parts: [{ id: `${tokenOf(c.id)}_gdn`, name: 'guidance', prose: c.guidance }],
  };
}

function oscalMeasure(m: Measure) {
  return {
    uuid: uuidOf(`measure ${m.id}`),
    title: m.name.replace(/\s+/g, ' '),
    props: [
      ...[prop('measure', m.id), prop('name', m.name), prop('hours', m.hours), prop('whose', m.whose)],
      ...m.steps.map((s) => prop('step', s)),
      ...m.evidence.map((e) => prop('evidence', e)),
      ...(m.where === undefined ? [] : [prop('where', m.where)]),
      ...Object.entries(m.test ?? {}).flatMap(([name, value]) =>
        value === undefined ? [] : [prop(`test-${name}`, value)],
      ),
    ],
  };
}
