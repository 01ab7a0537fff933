/** What the watchers use of the language, as it was before any script of the page could change it. */
export interface Natives {
  readonly apply: (fn: unknown, self: unknown, args: readonly unknown[]) => unknown;
  readonly construct: (fn: unknown, args: readonly unknown[], made?: unknown) => object;
  readonly get: (target: object, key: PropertyKey, receiver?: unknown) => unknown;
  readonly set: (target: object, key: PropertyKey, value: unknown, receiver?: unknown) => boolean;
  readonly define: (target: object, key: PropertyKey, descriptor: PropertyDescriptor) => void;
  readonly descriptor: (target: object, key: PropertyKey) => PropertyDescriptor | undefined;
  readonly slice: (text: string, from: number, to: number) => string;
  readonly indexOf: (text: string, part: string, from?: number) => number;
  readonly lower: (text: string) => string;
  readonly text: (value: unknown) => string;
  /** Calls back once `promise` settles; the message of an error, or ''. */
  readonly settled: (promise: unknown, then: (error: string) => void) => void;
  readonly weakMap: () => {
    get(key: object): unknown;
    set(key: object, value: unknown): void;
  };
  readonly newUrl: (url: string, base: string) => string;
}
