import { useState } from 'react';
import type { LevelContent } from '../../../core/protection/levels/level-content.ts';
import { stampedLevel } from '../../../core/protection/levels/level-content.ts';
import { filled, type Marking } from '../../../core/protection/stamp/marking.ts';
import { dayText } from '../../../core/text/day.ts';
import { Segments } from '../../parts/Segments.tsx';
import { MarkedPage, NEVER_ACROSS, PAGE_KINDS, type PageKind } from './MarkedPage.tsx';
import css from './LevelPreview.module.css';

const SHOWN = 300;

/** A page with the marking of a level as it will be, at once as its slots change. */
export function LevelPreview({ content }: { readonly content: LevelContent }) {
  const [kind, setKind] = useState<PageKind>('document');
  const { name, marking } = stampedLevel('preview', content);
  const values = {
    level: name,
    owner: 'Lotte Bruun',
    date: dayText(new Date().toISOString().slice(0, 10)),
    file: FILES[kind],
  };
  const shown = filled(marking, values);
  return (
    <figure className={css['preview']}>
      <MarkedPage kind={kind} marking={shown} width={SHOWN} label={inWords(shown, kind)}>
        {kind === 'mail' ? <MailHead subject={FILES.mail} /> : null}
        <Body kind={kind} />
      </MarkedPage>
      <figcaption>
        <Read words="At the top" line={shown.header} />
        <Read words="At the foot" line={shown.footer} />
        <Segments
          label="Seen as a"
          value={kind}
          options={Object.entries(PAGE_KINDS).map(([value, words]) => ({ value, words }))}
          onChange={(k) => setKind(k as PageKind)}
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

const FILES: Readonly<Record<PageKind, string>> = {
  document: 'Assistance requests, week 48.docx',
  sheet: 'Passengers.xlsx',
  slides: 'Season plan.pptx',
  pdf: 'Assistance requests, week 48.pdf',
  mail: 'Assistance requests, week 48',
};

function MailHead({ subject }: { readonly subject: string }) {
  return (
    <div className={css['head']}>
      <p>From: Lotte Bruun</p>
      <p>To: harbour@authority.example</p>
      <p>Subject: {subject}</p>
      <hr />
    </div>
  );
}

function inWords({ header, footer, watermark }: Marking, kind: PageKind): string {
  const parts = [
    header && `at the top “${header.text}”`,
    footer && `at the foot “${footer.text}”`,
    watermark && !NEVER_ACROSS.has(kind) && `across it “${watermark.text}”`,
  ].filter(Boolean);
  return `${PAGE_KINDS[kind]} with ${parts.length > 0 ? parts.join(', ') : 'no marking'}`;
}

function Body({ kind }: { readonly kind: PageKind }) {
  if (kind === 'mail')
    return (
      <div className={css['words']}>
        {[100, 100, 55, 100, 40].map((w, i) => (
          <i key={i} style={{ width: `${w}%` }} />
        ))}
      </div>
    );
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
