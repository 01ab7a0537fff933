/** Which provider asks, and where it reaches these resources. */
export interface Keeper {
  readonly id: number;
  readonly name: string;
  readonly base: string;
}
