/** Formats that carry a marking, as surveys call them. */
export const STAMPED_FORMATS: ReadonlySet<string> = new Set(['DOCX', 'XLSX', 'PPTX']);
