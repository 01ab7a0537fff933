import { CopyText } from './CopyText.tsx';

/** A secret that is told this once: where to keep it, and how to take it. */
export function ShownOnce({ label, text }: { readonly label: string; readonly text: string }) {
  return (
    <>
      <p>This is shown once. Keep it where the program reads it; nobody can look it up afterwards.</p>
      <CopyText label={label} text={text} />
    </>
  );
}
