import { useState, type CSSProperties } from 'react';
import type { LevelContent } from '../../../core/protection/levels/level-content.ts';
import { stampedLevel } from '../../../core/protection/levels/level-content.ts';
import { filled, type Marking } from '../../../core/protection/stamp/marking.ts';
import { dayText } from '../../../core/text/day.ts';
import { Segments } from '../../parts/Segments.tsx';
import css from './LevelPreview.module.css';

const KINDS = { document: 'Document', sheet: 'Sheet', slides: 'Slides', pdf: 'PDF', mail: 'Mail' } as const;
type Kind = keyof typeof KINDS;

/** In points: of ISO 216 A4, upright and across, and of a slide of 16 to 9. */
const PAGES: Readonly<Record<Kind, { readonly width: number; readonly height: number }>> = {
  document: { width: 595, height: 842 },
  sheet: { width: 842, height: 595 },
  slides: { width: 960, height: 540 },
  pdf: { width: 595, height: 842 },
  mail: { width: 595, height: 420 },
};
/** What has no watermark, whatever a level says. */
const PLAIN: ReadonlySet<Kind> = new Set(['sheet', 'mail']);
const SHOWN = 268;

/** A page with the marking of a level as it will be, at once as its slots change. */
export function LevelPreview({ content }: { readonly content: LevelContent }) {
  const [kind, setKind] = useState<Kind>('document');
  const { name, marking } = stampedLevel('preview', content);
  const { width, height } = PAGES[kind];
  const scale = SHOWN / width;
  const values = {
    level: name,
    owner: 'Lotte Bruun',
    date: dayText(new Date().toISOString().slice(0, 10)),
    file: FILES[kind],
  };
  const shown = filled(marking, values);
  return (
    <figure className={css['preview']}>
      <div
        className={css['page']}
        data-kind={kind}
        role="img"
        aria-label={inWords(shown, kind)}
        style={{ width: SHOWN, height: height * scale }}
      >
        <div aria-hidden className={css['paper']} style={{ width, height, transform: `scale(${scale})` }}>
          {kind === 'mail' ? (
            <Mail header={shown.header} footer={shown.footer} />
          ) : (
            <>
              <Body kind={kind} />
              {shown.header && <Line at="top" line={shown.header} />}
              {shown.footer && <Line at="foot" line={shown.footer} />}
            </>
          )}
          {shown.watermark && !PLAIN.has(kind) && (
            <div
              className={css['across']}
              style={{
                color: shown.watermark.colour,
                fontSize: shown.watermark.size,
                transform: `translate(-50%, -50%) rotate(${-shown.watermark.angle}deg)`,
              }}
            >
              {shown.watermark.text}
            </div>
          )}
        </div>
      </div>
      <figcaption>
        <Read words="At the top" line={shown.header} />
        <Read words="At the foot" line={shown.footer} />
        <Segments
          label="Seen as a"
          value={kind}
          options={Object.entries(KINDS).map(([value, words]) => ({ value, words }))}
          onChange={(k) => setKind(k as Kind)}
        />
      </figcaption>
    </figure>
  );
}

/** A line as it reads, at a size that can be read. */
function Read({ words, line }: { readonly words: string; readonly line: Marking['header'] }) {
  return (
    line && (
      <p className={css['read']}>
        {words}: <span style={{ color: line.colour }}>{line.text}</span>
      </p>
    )
  );
}

const FILES: Readonly<Record<Kind, string>> = {
  document: 'Assistance requests, week 48.docx',
  sheet: 'Passengers.xlsx',
  slides: 'Season plan.pptx',
  pdf: 'Assistance requests, week 48.pdf',
  mail: 'Assistance requests, week 48',
};

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

/** A message: the lines stand above and below its text, never on its edge. */
function Mail({ header, footer }: Pick<Marking, 'header' | 'footer'>) {
  return (
    <div className={css['mail']}>
      <p>From: Lotte Bruun</p>
      <p>To: harbour@authority.example</p>
      <p>Subject: {FILES.mail}</p>
      <hr />
      {header && <Line at="in" line={header} />}
      {[100, 100, 55, 100, 40].map((w, i) => (
        <i key={i} style={{ width: `${w}%` }} />
      ))}
      {footer && <Line at="in" line={footer} />}
    </div>
  );
}

function inWords({ header, footer, watermark }: Marking, kind: Kind): string {
  const parts = [
    header && `at the top “${header.text}”`,
    footer && `at the foot “${footer.text}”`,
    watermark && !PLAIN.has(kind) && `across it “${watermark.text}”`,
  ].filter(Boolean);
  return `${KINDS[kind]} with ${parts.length > 0 ? parts.join(', ') : 'no marking'}`;
}

function Body({ kind }: { readonly kind: Kind }) {
  if (kind === 'sheet')
    return (
      <div className={css['cells']}>
        {Array.from({ length: 70 }, (_, i) => (
          <i key={i} />
        ))}
      </div>
    );
  return (
    <div className={css['text']} data-kind={kind}>
      <b>{kind === 'slides' ? 'Season plan' : 'Assistance requests, week 48'}</b>
      {[100, 100, 55, 100, 100, 55, 100, 100].map((w, i) => (
        <i key={i} style={{ width: `${w}%` }} />
      ))}
    </div>
  );
}
