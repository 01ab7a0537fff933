import { useState } from 'react';
import { Button } from './Button.tsx';
import css from './CopyText.module.css';

/** Text to carry elsewhere, with one act to copy it. */
export function CopyText({ label, text }: { readonly label: string; readonly text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    await navigator.clipboard.writeText(text);
    setCopied(true);
    setTimeout(() => setCopied(false), 2500);
  };
  return (
    <div className={css['copy']}>
      <pre tabIndex={0} aria-label={label}>
        {text}
      </pre>
      <Button onClick={() => void copy()}>{copied ? 'Copied' : 'Copy'}</Button>
    </div>
  );
}
