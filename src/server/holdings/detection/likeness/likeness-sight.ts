import {
  bestLikeness,
  likenessTemplate,
  matchedInTemplate,
  type LikenessPart,
} from '../../../../core/holdings/detection/likeness/likeness.ts';

/** A text beside the known document that it is most like. */
export interface LikenessSight {
  readonly template: string;
  readonly measure: number;
  readonly how: 'copy' | 'excerpt';
  readonly from: number;
  readonly templateText: string;
  readonly inTemplate: readonly LikenessPart[];
  readonly inText: readonly LikenessPart[];
}

interface KnownDocuments {
  readonly from: number;
  readonly templates: readonly { readonly name: string; readonly text: string }[];
}

/** `null` where it is like none. */
export function likenessSight(of: KnownDocuments | undefined, text: string): LikenessSight | null {
  if (!of) return null;
  const best = bestLikeness(
    of.templates.map((t) => likenessTemplate(t.name, t.text)),
    text,
  );
  const templateText = of.templates.find((t) => t.name === best?.template)?.text;
  if (!best || templateText === undefined || best.parts.length === 0) return null;
  return {
    template: best.template,
    measure: best.measure,
    how: best.how,
    from: of.from,
    templateText,
    inTemplate: matchedInTemplate(templateText, text),
    inText: best.parts,
  };
}
