import type { Around } from './around.ts';
import type { FrameworkFile } from './framework-file.ts';

export interface FrameworkFault {
  /** Into the file: `['controls', 3, 'measures']`. */
  readonly path: readonly (string | number)[];
  /** `crew-code 4-2`, for who has no file before them. */
  readonly at: string;
  readonly message: string;
}

/** All that no single field shows: what is named and is not there, is there twice, or is named by nothing. */
export function fileFaults(file: FrameworkFile, around: Around): readonly FrameworkFault[] {
  const faults: FrameworkFault[] = [];
  const fault = (path: FrameworkFault['path'], at: string, message: string) =>
    faults.push({ path, at: `${file.id}${at}`, message });
  if (around.ships(file.id))
    fault(['id'], '', `A framework that ships has the id ${file.id}. Choose another.`);
  const base = file.extends && around.framework(file.extends.framework, file.extends.version);
  if (file.extends && !base) {
    const [path, message] = missing(file.extends, around);
    fault(['extends', path], '', message);
  }
  const taken = (file.takes ?? []).flatMap((t, i) => {
    const from = around.framework(t.framework, t.version);
    if (!from) {
      const [path, message] = missing(t, around);
      fault(['takes', i, path], '', message);
      return [];
    }
    const known = new Map(from.controls.map((c) => [c.id, c]));
    for (const id of t.controls)
      if (!known.has(id))
        fault(['takes', i, 'controls'], '', `${from.name} of ${t.version} has no control ${id}.`);
    return t.controls.flatMap((id) => known.get(id)?.family ?? []).map((f) => `${from.id}.${f}`);
  });
  const seenTakes = new Set<string>();
  (file.takes ?? []).forEach((t, i) => {
    for (const id of t.controls) {
      const key = `${t.framework}.${id}`;
      if (seenTakes.has(key)) fault(['takes', i, 'controls'], '', `It takes ${key} twice.`);
      seenTakes.add(key);
      if (t.framework === file.extends?.framework)
        fault(['takes', i, 'framework'], '', `It has all of ${t.framework} already.`);
      if (key.length > 80) fault(['takes', i, 'controls'], '', `${key} is too long to be an id.`);
    }
  });
  const families = new Set([
    ...file.families.map((f) => f.id),
    ...(base?.families.map((f) => f.id) ?? []),
    ...taken,
  ]);
  const inFamily = new Set([...(base?.controls ?? []), ...file.controls].map((c) => c.family));
  for (const family of taken) inFamily.add(family);
  for (const [i, { id }] of again(file.families))
    fault(['families', i, 'id'], ` family ${id}`, 'There are two families of this id.');
  file.families.forEach(({ id }, i) => {
    if (!inFamily.has(id)) fault(['families', i, 'id'], ` family ${id}`, 'No control is in it.');
  });
  if (file.controls.length === 0 && !base && seenTakes.size === 0)
    fault(['controls'], '', 'It has no control, and takes none.');
  for (const [i, { id }] of again(file.controls))
    fault(['controls', i, 'id'], ` ${id}`, 'There are two controls of this id.');
  const own = new Set((file.measures ?? []).map((m) => m.id));
  file.controls.forEach((c, i) => {
    const at = ` ${c.id}`;
    if (!families.has(c.family)) fault(['controls', i, 'family'], at, `There is no family ${c.family}.`);
    const measures = ['controls', i, 'measures'] as const;
    if (c.measures.length === 0) fault(measures, at, 'No measure answers it.');
    for (const id of new Set(c.measures)) {
      if (c.measures.indexOf(id) !== c.measures.lastIndexOf(id))
        fault(measures, at, `It names the measure ${id} twice.`);
      if (!own.has(id) && around.measureOf(id) === undefined)
        fault(measures, at, `There is no measure ${id}.`);
    }
  });
  for (const [i, { id }] of again(file.measures ?? []))
    fault(['measures', i, 'id'], ` measure ${id}`, 'There are two measures of this id.');
  const used = new Set(file.controls.flatMap((c) => c.measures));
  file.measures?.forEach(({ id, test }, i) => {
    const of = around.measureOf(id);
    const at = ` measure ${id}`;
    if (of !== undefined)
      fault(
        ['measures', i, 'id'],
        at,
        of === 'ships'
          ? `A measure that ships has the id ${id}. Use that one, or choose another id.`
          : `${of} has a measure of the id ${id}. Use that one, or choose another id.`,
      );
    if (!used.has(id)) fault(['measures', i, 'id'], at, 'It answers no control.');
    if (test && around.figures && !around.figures.has(test.figure))
      fault(['measures', i, 'test', 'figure'], at, `There is no figure ${test.figure}.`);
  });
  return faults;
}

function missing(
  { framework, version }: { readonly framework: string; readonly version: string },
  around: Around,
): readonly ['framework' | 'version', string] {
  const versions = around.versions(framework);
  return versions.length === 0
    ? ['framework', `There is no framework ${framework}.`]
    : ['version', `There is no ${framework} of ${version}. There is one of ${versions.join(', ')}.`];
}

/** Those whose id stands before them already, with their places. */
function again<T extends { readonly id: string }>(all: readonly T[]): readonly (readonly [number, T])[] {
  const seen = new Set<string>();
  return all.flatMap((one, i) => {
    if (seen.has(one.id)) return [[i, one] as const];
    seen.add(one.id);
    return [];
  });
}
