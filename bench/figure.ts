/** One figure, one line. */
export function figure(bench: string, name: string, value: number, unit: string): void {
  process.stdout.write(
    `${JSON.stringify({ bench, figure: name, value: Number(value.toPrecision(4)), unit })}\n`,
  );
}

export function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  const mid = Math.floor(sorted.length / 2);
  return sorted.length % 2
    ? (sorted[mid] as number)
    : ((sorted[mid - 1] as number) + (sorted[mid] as number)) / 2;
}
