import { UnstampableError } from './marking.ts';
import { readRelations, type Package } from './package-parts.ts';
import { elementsOf, type Element } from './xml-text.ts';

const MAIN = /\/officeDocument\/(?:2006\/)?relationships\/officeDocument$/;

export interface MainPart {
  readonly name: string;
  readonly root: Element;
}

/** The part a document begins with (ISO/IEC 29500-1, transitional and strict); `undefined` where the package has none. */
export function findMainPart(pack: Package): MainPart | undefined {
  const name = readRelations(pack, '').find((r) => MAIN.test(r.type))?.target ?? '';
  return pack.has(name) ? { name, root: elementsOf(pack.text(name)) } : undefined;
}

/** The main part of a document of one kind that may be changed. Throws an UnstampableError, also for one that is signed. */
export function mainPart(
  pack: Package,
  {
    root,
    namespaces,
    words,
  }: { readonly root: string; readonly namespaces: readonly string[]; readonly words: string },
): MainPart {
  if (pack.names.some((n) => n.startsWith('_xmlsignatures/')))
    throw new UnstampableError('signed', 'It is signed: a mark would break the signature.');
  const main = findMainPart(pack);
  if (!main) throw new UnstampableError('damaged', `It has no ${words} in it.`);
  if (main.root.name !== root || !namespaces.includes(main.root.namespace))
    throw new UnstampableError('another kind', `It is no ${words}.`);
  return main;
}
