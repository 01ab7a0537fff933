import type { DetectionResult, Finding } from '../detector/finding.ts';
import { foldUnits } from '../pattern/code-shape.ts';
import type { TextDocument } from '../../../text/segment.ts';
import { Search, type DetectOptions } from './search.ts';
import { TriggerTable } from './trigger-table.ts';

/**
 * Many detectors as one: a single pass over the text finds the places where something rare enough stands, and only
 * there are patterns run, checks made and surroundings read.
 */
export class Engine extends TriggerTable {
  /** Finds everything in a document. `units` are the text's folded units, where the caller has them. */
  detect(source: TextDocument, options: DetectOptions = {}, units?: Uint8Array): DetectionResult {
    const findings: Finding[] = [];
    const search = new Search(this, options, (f) => findings.push(f));
    search.read({
      text: source.text,
      units: units ?? foldUnits(source.text),
      base: 0,
      from: 0,
      to: source.text.length,
      segments: source.segments,
    });
    const rest = search.end();
    return { findings, ...rest };
  }
}
