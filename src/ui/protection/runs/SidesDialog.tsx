import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Marking } from '../../../core/protection/stamp/marking.ts';
import type { LevelSides } from '../../../server/protection/levels/level-sides.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { itemLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { lazyPart } from '../../parts/lazy-part.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { MarkedPage, type PageKind } from '../levels/MarkedPage.tsx';
import css from './SidesDialog.module.css';

const PdfSides = lazyPart('the pages', async () => (await import('./PdfSides.tsx')).PdfSides);

/** An item of a run, with the level that it would get. */
export interface Sided {
  readonly item: number;
  readonly name: string;
  readonly level: string;
}

/** Items of a run, each before and after, to look through. */
export function SidesDialog({
  all,
  first,
  onClose,
}: {
  readonly all: readonly Sided[];
  readonly first: number;
  readonly onClose: () => void;
}) {
  const [at, setAt] = useState(first);
  const one = all[at];
  if (!one) return null;
  const step = (by: number) => setAt(Math.max(0, Math.min(all.length - 1, at + by)));
  return (
    <Dialog title={`${one.name}, before and after`} wide onClose={onClose}>
      <div
        onKeyDown={(e) => {
          if (e.key === 'ArrowRight') step(1);
          else if (e.key === 'ArrowLeft') step(-1);
        }}
        role="group"
        aria-label="Before and after"
      >
        <Sides key={`${one.item} ${one.level}`} of={one} />
        {/* Those at an end stay where the keyboard is. */}
        <p className={css['steps']}>
          <Button autoFocus aria-disabled={at === 0} onClick={() => step(-1)}>
            ← Previous
          </Button>
          <Button aria-disabled={at === all.length - 1} onClick={() => step(1)}>
            Next →
          </Button>
          <span>
            {at + 1} of {all.length} that are in view
          </span>
          <a href={itemLink(String(one.item), 'everything')}>Open the item</a>
        </p>
      </div>
    </Dialog>
  );
}

function Sides({ of: { item, level } }: { readonly of: Sided }) {
  const mayReveal = useMay('holdings.reveal');
  const [asIs, setAsIs] = useState(false);
  const sides = useQuery({
    queryKey: ['level-sides', item, level],
    queryFn: () => request<LevelSides>('POST', `/api/protection/items/${item}/sides`, { level }),
    staleTime: 60_000,
    retry: false,
  });
  if (sides.isError) return <Failure error={sides.error} onRetry={() => void sides.refetch()} />;
  if (!sides.data) return <Loading what="both sides" />;
  const { data } = sides;
  return (
    <>
      {asIs ? (
        <PdfSides item={item} level={level} after={data.level} />
      ) : (
        <div className={css['sides']}>
          <Side
            words={data.says === null ? 'Now, with no level' : `Now, as ${data.says}`}
            data={data}
            marking={data.had}
          />
          {data.marking ? (
            <Side words={`Then, as ${data.level}`} data={data} marking={data.marking} />
          ) : (
            <p className={css['why']}>◆ It stays as it is: {data.why}</p>
          )}
        </div>
      )}
      <p className={css['note']}>
        {asIs
          ? 'The first page as it is, with the values in it. That you saw it is in the ledger.'
          : 'Its text as it begins, found values masked; the marking is that of a copy that was stamped for you and thrown away.'}
        {data.isPdf && mayReveal && !asIs && (
          <>
            {' '}
            <Button onClick={() => setAsIs(true)}>Show the page as it is</Button>
          </>
        )}
      </p>
    </>
  );
}

const WIDTH = 440;

function Side({
  words,
  data,
  marking,
}: {
  readonly words: string;
  readonly data: LevelSides;
  readonly marking: Marking | null;
}) {
  return (
    <figure className={css['side']}>
      <figcaption>{words}</figcaption>
      <MarkedPage
        kind={pageKind(data)}
        marking={marking}
        width={WIDTH}
        label={`${words}: ${[marking?.header?.text, marking?.footer?.text].filter(Boolean).join(', ') || 'no marking'}`}
      >
        <div className={css['text']} data-kind={pageKind(data)}>
          {data.pieces.map((p, i) => ('text' in p ? p.text : <mark key={i}>{p.masked}</mark>))}
        </div>
      </MarkedPage>
    </figure>
  );
}

function pageKind({ format, name }: Pick<LevelSides, 'format' | 'name'>): PageKind {
  if (format === 'mail') return 'mail';
  if (format === 'PDF') return 'pdf';
  if (format === 'XLSX' || /\.ods$/i.test(name)) return 'sheet';
  if (format === 'PPTX' || /\.odp$/i.test(name)) return 'slides';
  return 'document';
}
