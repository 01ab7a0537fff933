import type { AnchorFunction } from './anchor-function.ts';
import { FILLED_FIELD } from './filled-field.ts';
import { PERSON } from './person-name.ts';

export function anchorFunction(name: 'person name' | 'field'): AnchorFunction {
  return name === 'person name' ? PERSON : FILLED_FIELD;
}
