/** Formats that carry a marking, as surveys call them. */
export const STAMPED_FORMATS: ReadonlySet<string> = new Set([
  'DOCX',
  'XLSX',
  'PPTX',
  'PDF',
  'OpenDocument',
  'mail',
]);

/** Whether a document may carry a marking; of one that could not be read, by its name. */
export function mayCarry(of: {
  readonly format: string;
  readonly name: string;
  readonly unreadable: boolean;
}): boolean {
  return (
    STAMPED_FORMATS.has(of.format) ||
    (of.unreadable && /\.(?:docx|xlsx|pptx|pdf|odt|ods|odp|eml)$/i.test(of.name))
  );
}

/** Why one carries none, in a sentence. */
export function carriesNone({
  format,
  unreadable,
}: {
  readonly format: string;
  readonly unreadable: boolean;
}): string {
  return unreadable || format === ''
    ? 'It could not be read, and carries no marking.'
    : `What is ${format} carries no marking.`;
}
