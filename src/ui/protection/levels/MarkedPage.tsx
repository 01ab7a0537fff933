import { Children, type CSSProperties, type ReactNode } from 'react';
import type { Marking } from '../../../core/protection/stamp/marking.ts';
import css from './MarkedPage.module.css';

export const PAGE_KINDS = {
  document: 'Document',
  sheet: 'Sheet',
  slides: 'Slides',
  pdf: 'PDF',
  mail: 'Mail',
} as const;
export type PageKind = keyof typeof PAGE_KINDS;

/** In points: of ISO 216 A4, upright and across, of a slide of 16 to 9, and of a message as it is read. */
const PAGES: Readonly<Record<PageKind, { readonly width: number; readonly height: number }>> = {
  document: { width: 595, height: 842 },
  sheet: { width: 842, height: 595 },
  slides: { width: 960, height: 540 },
  pdf: { width: 595, height: 842 },
  mail: { width: 595, height: 460 },
};
/** What has no watermark, whatever a level says. */
export const NEVER_ACROSS: ReadonlySet<PageKind> = new Set(['sheet', 'mail']);

/** A page as it is drawn for the desk, with a marking where it stands; of mail, above and below the last of its children. */
export function MarkedPage({
  kind,
  marking,
  width: shown,
  label,
  children,
}: {
  readonly kind: PageKind;
  readonly marking: Marking | null;
  /** Pixels. */
  readonly width: number;
  readonly label: string;
  readonly children: ReactNode;
}) {
  const { width, height } = PAGES[kind];
  const scale = shown / width;
  const all = Children.toArray(children);
  const body = all.pop();
  const header = marking?.header;
  const footer = marking?.footer;
  const across = NEVER_ACROSS.has(kind) ? null : marking?.watermark;
  return (
    <div
      className={css['page']}
      data-kind={kind}
      role="img"
      aria-label={label}
      style={{ width: shown, height: height * scale }}
    >
      <div aria-hidden className={css['paper']} style={{ width, height, transform: `scale(${scale})` }}>
        {kind === 'mail' ? (
          <div className={css['mail']}>
            {all}
            {header && <Line at="in" line={header} />}
            {body}
            {footer && <Line at="in" line={footer} />}
          </div>
        ) : (
          <>
            {all}
            {body}
            {header && <Line at="top" line={header} />}
            {footer && <Line at="foot" line={footer} />}
          </>
        )}
        {across && (
          <div
            className={css['across']}
            style={{
              color: across.colour,
              fontSize: across.size,
              transform: `translate(-50%, -50%) rotate(${-across.angle}deg)`,
            }}
          >
            {across.text}
          </div>
        )}
      </div>
    </div>
  );
}

interface LineProps {
  /** On an edge of the page, or where it stands. */
  readonly at: 'top' | 'foot' | 'in';
  readonly line: NonNullable<Marking['header']>;
}

function Line({ at, line }: LineProps) {
  const style: CSSProperties = {
    color: line.colour,
    fontSize: line.size,
    textAlign: line.align === 'centre' ? 'center' : line.align,
  };
  return (
    <div className={css['line']} data-at={at} style={style}>
      {line.text}
    </div>
  );
}
