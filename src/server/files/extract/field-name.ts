/** Names that say little without those of what they stand in. */
const SAYS_LITTLE =
  /^(?:names?|ids?|no|nr|num|number|nummer|values?|code|type|title|date|text|content|line ?\d?|raw|formatted|\$t|#text|_)$/i;

/** Those that say which of several it is. */
const SAYS_WHICH = /^(?:first|last|given|family|full|display|primary|main|other|home|work|private)$/i;

/** What a field is called: `number` of a `passport` is its `passport number`, `first` of a `name` the `first name`. */
export const fieldName = (name: string, within: string | undefined): string =>
  within === undefined || within === ''
    ? name
    : SAYS_WHICH.test(name)
      ? `${name} ${within}`
      : SAYS_LITTLE.test(name)
        ? `${within} ${name}`
        : name;
