import type { ButtonHTMLAttributes } from 'react';
import css from './Button.module.css';

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly kind?: 'primary' | 'plain' | 'quiet';
  readonly busy?: boolean;
}

/** Says what will happen. While `busy` it cannot be pressed twice. */
export function Button({
  kind = 'plain',
  busy = false,
  className,
  disabled,
  children,
  ...rest
}: ButtonProps) {
  return (
    <button
      type="button"
      {...rest}
      className={[css['button'], className].filter(Boolean).join(' ')}
      data-kind={kind}
      aria-busy={busy || undefined}
      disabled={disabled || busy}
    >
      {children}
      {busy && ' …'}
    </button>
  );
}
