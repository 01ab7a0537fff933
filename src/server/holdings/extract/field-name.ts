/** Names that say little without those of what they stand in. */
const SAYS_LITTLE =
  /^(?:names?|ids?|no|nr|num|number|nummer|values?|code|type|title|date|text|content|first|last|given|family|full|display|primary|main|line ?\d?|raw|formatted|\$t|#text|_)$/i;

/** What a field is called: `number` of a `passport` is its `passport number`. */
export const fieldName = (name: string, within: string | undefined): string =>
  within !== undefined && within !== '' && SAYS_LITTLE.test(name) ? `${within} ${name}` : name;
