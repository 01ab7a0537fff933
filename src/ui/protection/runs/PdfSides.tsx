import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { getDocumentProxy } from 'unpdf';
import { requestError } from '../../desk/request.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import css from './SidesDialog.module.css';

const WIDTH = 440;

/** The first page of a PDF, before and after, as it is. */
export function PdfSides({
  item,
  level,
  after,
}: {
  readonly item: number;
  readonly level: string;
  readonly after: string;
}) {
  return (
    <div className={css['sides']}>
      <PdfSide words="Now" item={item} level={level} side="before" />
      <PdfSide words={`Then, as ${after}`} item={item} level={level} side="after" />
    </div>
  );
}

function PdfSide({
  words,
  item,
  level,
  side,
}: {
  readonly words: string;
  readonly item: number;
  readonly level: string;
  readonly side: 'before' | 'after';
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [wrong, setWrong] = useState('');
  const file = useQuery({
    queryKey: ['level-sides', item, level, side],
    queryFn: () => fetchSide(item, level, side),
    retry: false,
    staleTime: 60_000,
  });
  const { data } = file;
  useEffect(() => {
    if (!data) return;
    let over = false;
    draw(data.slice(), canvas.current, () => over).catch((error: unknown) => {
      if (!over) setWrong((error as Error).message);
    });
    return () => {
      over = true;
    };
  }, [data]);
  if (file.isError) return <Failure error={file.error} />;
  return (
    <figure className={css['side']}>
      <figcaption>{words}</figcaption>
      {!data && <Loading what="the page" />}
      {wrong && <p className={css['why']}>◆ Its page cannot be drawn here: {wrong}</p>}
      <canvas ref={canvas} role="img" aria-label={`First page, ${words.toLowerCase()}`} />
    </figure>
  );
}

async function fetchSide(item: number, level: string, side: string): Promise<Uint8Array> {
  const path = `/api/protection/items/${item}/pdf-side`;
  const answer = await fetch(path, {
    method: 'POST',
    body: JSON.stringify({ level, side }),
    headers: { 'content-type': 'application/json' },
  });
  if (!answer.ok) throw await requestError(answer, path);
  return new Uint8Array(await answer.arrayBuffer());
}

async function draw(bytes: Uint8Array, on: HTMLCanvasElement | null, isOver: () => boolean): Promise<void> {
  const document = await getDocumentProxy(bytes, { isEvalSupported: false });
  try {
    const page = await document.getPage(1);
    const context = on?.getContext('2d');
    if (!on || !context || isOver()) return;
    const sharp = window.devicePixelRatio || 1;
    const viewport = page.getViewport({ scale: (WIDTH * sharp) / page.getViewport({ scale: 1 }).width });
    on.width = Math.ceil(viewport.width);
    on.height = Math.ceil(viewport.height);
    await page.render({ canvas: on, canvasContext: context, viewport }).promise;
  } finally {
    await document.destroy();
  }
}
