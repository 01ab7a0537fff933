/** The keys of a table as a tuple that Zod makes an enum of; throws nothing, and wants one key at least. */
export const keysOf = <T extends object>(of: T) =>
  Object.keys(of) as [keyof T & string, ...(keyof T & string)[]];
