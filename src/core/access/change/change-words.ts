import type { ReachNames } from '../reach/reach-words.ts';
import type { AccessStep } from './access-change.ts';

/** A step in words, as what is done: `takes Port clerks, change, away at July`. */
export function stepWords(step: AccessStep, names: ReachNames): string {
  switch (step.is) {
    case 'grant': {
      const { to, strength, deny, place, until } = step.grant;
      const what = `${names.person(to)}, ${deny ? `denied ${strength}` : strength}${until === null ? '' : ` until ${until}`}`;
      return step.act === 'add'
        ? `gives ${what}, at ${names.place(place)}`
        : `takes ${what}, away at ${names.place(place)}`;
    }
    case 'link': {
      const { to, strength, place, until } = step.link;
      const whom = typeof to === 'string' ? to : to.map((t) => names.person(t)).join(', ');
      const what = `a link for ${whom}, ${strength}${until === null ? ', without end' : ` until ${until}`}`;
      return step.act === 'add'
        ? `makes ${what}, at ${names.place(place)}`
        : `takes ${what}, away at ${names.place(place)}`;
    }
    case 'member':
      return step.act === 'add'
        ? `puts ${names.person(step.member)} in ${names.person(step.group)}`
        : `takes ${names.person(step.member)} out of ${names.person(step.group)}`;
    case 'inherits':
      return step.after
        ? `lets ${names.place(step.place)} inherit`
        : `ends what ${names.place(step.place)} inherits`;
    case 'owner':
      return step.after === null
        ? `takes ${names.person(step.before ?? '')} away as owner of ${names.place(step.place)}`
        : `makes ${names.person(step.after)} owner of ${names.place(step.place)}`;
    case 'account':
      return `${step.after === 'open' ? 'opens' : 'closes'} the account of ${names.person(step.person)}`;
    case 'list': {
      const came = step.after.filter((e) => !step.before.includes(e));
      const went = step.before.filter((e) => !step.after.includes(e));
      return `sets the list of ${names.place(step.place)}: ${[...went.map((e) => `− ${e}`), ...came.map((e) => `+ ${e}`)].join(', ')}`;
    }
  }
}
