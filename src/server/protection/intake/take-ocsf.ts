import { fromOcsf } from '../../../core/protection/intake/ocsf.ts';
import type { Context } from '../../context.ts';
import { takeEvents, type Taken, type Teller } from '../activity/take-events.ts';
import { eventIdOf } from './event-id.ts';

/** Takes events of OCSF, a JSON value a line; what cannot be told here is refused line by line. */
export async function takeOcsf(ctx: Context, teller: Teller, program: number, text: string): Promise<Taken> {
  const refused: { line: number; why: string }[] = [];
  const lines = text.split('\n').map((line, i) => {
    if (line.trim() === '') return '';
    const read = fromOcsf(parse(line));
    if ('why' in read) {
      refused.push({ line: i + 1, why: read.why });
      return '';
    }
    return JSON.stringify({ id: eventIdOf('ocsf', String(program), read.uid), ...read.event });
  });
  const taken = await takeEvents(ctx, teller, lines.join('\n'));
  return { ...taken, refused: [...refused, ...taken.refused].toSorted((a, b) => a.line - b.line) };
}

/** `undefined` where it is no JSON: that is told as a value that will not do. */
function parse(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}
