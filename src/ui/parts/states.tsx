import type { ReactNode } from 'react';
import { RequestError } from '../desk/request.ts';
import { Button } from './Button.tsx';
import css from './states.module.css';

/** Nothing here yet: says what to do first. */
export function Empty({
  title,
  children,
  action,
}: {
  readonly title: string;
  readonly children?: ReactNode;
  readonly action?: ReactNode;
}) {
  return (
    <div className={css['state']}>
      <h2>{title}</h2>
      {children && <p>{children}</p>}
      {action}
    </div>
  );
}

/** What happened, what was kept, what to try. */
export function Failure({
  error,
  onRetry,
}: {
  readonly error: unknown;
  readonly onRetry?: (() => void) | undefined;
}) {
  const refusal = error instanceof RequestError ? error.refusal : undefined;
  return (
    <div className={css['state']} role="alert" data-kind="failure">
      <h2>◆ {error instanceof Error ? error.message : 'That did not work.'}</h2>
      {refusal?.fields.map((f) => (
        <p key={f.field + f.message}>{f.message}</p>
      ))}
      {refusal?.kept && <p>{refusal.kept}</p>}
      {refusal?.requestId && (
        <p className={css['id']}>
          Request <code>{refusal.requestId}</code>
        </p>
      )}
      {onRetry && <Button onClick={onRetry}>Try again</Button>}
    </div>
  );
}

export function Loading({ what }: { readonly what: string }) {
  return (
    <p className={css['loading']} role="status">
      Loading {what} …
    </p>
  );
}

/** How far long work is. Without a share it shows that it goes on. */
export function ProgressBar({
  label,
  share,
  words,
}: {
  readonly label: string;
  readonly share: number | null;
  readonly words: string;
}) {
  return (
    <div className={css['progress']}>
      <progress
        aria-label={label}
        max={100}
        {...(share === null ? {} : { value: Math.round(share * 100) })}
      />
      <span>{words}</span>
    </div>
  );
}
