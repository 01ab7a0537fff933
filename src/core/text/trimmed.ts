/** The part of [start, end) without the space and quotes around it. */
export function trimmed(text: string, start: number, end: number): readonly [number, number] {
  let [a, b] = [start, end];
  while (a < b && /[\s"']/.test(text[a] as string)) a++;
  while (b > a && /[\s"']/.test(text[b - 1] as string)) b--;
  return [a, b];
}
