import type { ReactNode } from 'react';
import { go } from '../desk/location.ts';

/** A link within the desk: followed without loading the page, unless it is to be opened elsewhere. */
export function GoLink({ href, children }: { readonly href: string; readonly children: ReactNode }) {
  return (
    <a
      href={href}
      onClick={(e) => {
        if (e.ctrlKey || e.metaKey || e.shiftKey) return;
        e.preventDefault();
        go(href);
      }}
    >
      {children}
    </a>
  );
}
