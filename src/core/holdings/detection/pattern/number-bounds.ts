/** What stands around a number that is no part of a longer word or number; the body of the pattern goes between. */
export const ALONE_BEFORE = '(?<![\\p{L}\\p{N}_])(?<!\\p{N}[.,:/–-])(?<![-#]\\p{N}{0,1}-)(?:';
export const ALONE_AFTER = ')(?![\\p{L}\\p{N}_])(?![.,:/–-]\\p{N})';
