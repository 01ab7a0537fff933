/** The same words with a capital, as they begin a sentence or a button. */
export const withCapital = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}`;

/** What an error says, as a sentence of its own. */
export const asSentence = (words: string) => `${withCapital(words)}.`;
