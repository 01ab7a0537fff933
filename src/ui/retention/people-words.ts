import { peopleMargin } from '../../core/holdings/offers.ts';
import { countWords } from '../desk/words.ts';

/** `41,880 people`, with how sure that is where they were not counted one by one. */
export function peopleWords(of: { readonly people: number; readonly error: number }): string {
  const margin = peopleMargin(of);
  return `${countWords(of.people, 'person', 'people')}${margin && ` (${margin})`}`;
}
