/** What an error says, as a sentence of its own. */
export const asSentence = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;
