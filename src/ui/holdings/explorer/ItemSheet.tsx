import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Place } from '../../../core/text/segment.ts';
import { bandOf } from '../../../core/holdings/detection/detector/confidence.ts';
import type * as itemApi from '../../../pages/api/holdings/items/[id]/index.ts';
import type * as revealApi from '../../../pages/api/holdings/items/[id]/reveal.ts';
import type * as textApi from '../../../pages/api/holdings/items/[id]/text.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ViewedFinding, ViewedMatch } from '../../../server/holdings/items/item-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { ItemPanels } from '../../desk/ItemPanels.tsx';
import { useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords, sizeWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { detectorLink, lensLink, sourceLink } from '../links.ts';
import { StepList } from '../detection/detectors/StepList.tsx';
import css from '../estate.module.css';

function useItem(id: string) {
  const { query } = useDeskLocation();
  const line = query.get('lens') ?? 'everything';
  const item = useQuery({
    queryKey: ['item', id, line],
    queryFn: () =>
      request<AnswerOf<typeof itemApi.GET>>('GET', `/api/holdings/items/${id}${queryString({ lens: line })}`),
  });
  return { item, line };
}

/** One item: what was found in it, match by match, with what each confidence is made of. */
export function ItemSheet({ id }: { readonly id: string }) {
  const { item: found, line } = useItem(id);
  if (found.isError && !found.data)
    return <Failure error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the item" />;
  const { item, findings, documentName } = found.data;
  return (
    <>
      <SheetHead
        title={item.title ?? item.name}
        detail={
          <>
            <a href={sourceLink(item.source_id)}>{item.source}</a>
            {item.path && ` › ${item.path.replaceAll('/', ' › ')}`}
          </>
        }
        actions={<a href={lensLink(line)}>Back to the lens</a>}
      />
      <dl className={css['facts']}>
        {documentName && (
          <>
            <dt>Kind of document</dt>
            <dd>
              {documentName}, {bandOf(item.document_confidence ?? 0)}
            </dd>
          </>
        )}
        <dt>Format</dt>
        <dd>
          {item.format || 'not known'}, {sizeWords(item.size)}
        </dd>
        {item.owner && (
          <>
            <dt>Owner</dt>
            <dd>{item.owner}</dd>
          </>
        )}
        <dt>Changed</dt>
        <dd>{item.changed_at ? whenWords(item.changed_at) : 'not known'}</dd>
        <dt>Read</dt>
        <dd>
          {item.state === 'gone' ? '◆ It was gone when its source was read last. ' : ''}
          {item.read_at ? whenWords(item.read_at) : 'never'}
        </dd>
        {item.problem && (
          <>
            <dt>Told while reading</dt>
            <dd className={item.state === 'unreadable' ? css['mark'] : undefined}>
              {item.state === 'unreadable' && '◆ '}
              {item.problem}
            </dd>
          </>
        )}
      </dl>
      {findings.length === 0 && item.state === 'read' && <p>No detector found anything in it.</p>}
      {inOrder(findings, line).map((f) => (
        <FindingSection key={`${f.detector} ${String(f.rehearsed)}`} item={id} finding={f} />
      ))}
      <ItemTextView id={id} />
    </>
  );
}

/** What is looked for first, then what is rare: a health note among three hundred names is what matters. */
function inOrder(findings: readonly ViewedFinding[], line: string): readonly ViewedFinding[] {
  const wanted = (f: ViewedFinding) => (line.includes(`"${f.detector}"`) ? 0 : 1);
  return findings.toSorted((a, b) => wanted(a) - wanted(b) || a.matches - b.matches);
}

/** Matches that are shown at first. */
const FEW = 4;

function FindingSection({ item, finding }: { readonly item: string; readonly finding: ViewedFinding }) {
  const more = finding.matches - finding.kept.length;
  const [all, setAll] = useState(false);
  return (
    <section className={css['finding']}>
      <h2>
        <a href={detectorLink(finding.detector)}>{finding.name}</a>
        <small>
          {countWords(finding.matches, 'match', 'matches')}, {countWords(finding.distinct, 'distinct value')}
        </small>
        {finding.rehearsed && <StageTag state="rehearsing" />}
      </h2>
      <table className={css['matches']} aria-label={`Matches of ${finding.name}`}>
        <tbody>
          {(all ? finding.kept : finding.kept.slice(0, FEW)).map((m) => (
            <MatchRow key={m.number} item={item} finding={finding} match={m} />
          ))}
        </tbody>
      </table>
      {finding.kept.length > FEW && (
        <Button kind="quiet" onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `${finding.kept.length - FEW} more`}
        </Button>
      )}
      {more > 0 && all && (
        <p className={css['judged']}>
          The surest {finding.kept.length} are kept; {numberWords(more)} more were counted.
        </p>
      )}
    </section>
  );
}

function MatchRow({
  item,
  finding,
  match,
}: {
  readonly item: string;
  readonly finding: ViewedFinding;
  readonly match: ViewedMatch;
}) {
  const mayJudge = useMay('holdings.judge');
  const mayReveal = useMay('holdings.reveal');
  const mayTeach = useMay('holdings.edit');
  const [clear, setClear] = useState<string>();
  const [open, setOpen] = useState(false);
  const judge = useMutation({
    mutationFn: (holds: boolean) =>
      request('POST', `/api/holdings/items/${item}/judge`, {
        detector: finding.detector,
        values: [match.hash],
        holds,
        reason: '',
      }),
    onSuccess: (_, holds) => {
      const teach = () =>
        request('POST', `/api/holdings/items/${item}/teach`, { detector: finding.detector, holds }).then(
          () => tell(`${finding.name} has it as an example; it counts once it is trained again.`),
          tellFailure,
        );
      tell(
        holds ? 'Judged right.' : 'Judged wrong: it does not count any more.',
        finding.learned && mayTeach ? { act: { words: 'Teach it with this', do: () => void teach() } } : {},
      );
      void queryClient.invalidateQueries({ queryKey: ['item'] });
      void queryClient.invalidateQueries({ queryKey: ['items'] });
    },
    onError: tellFailure,
  });
  const reveal = useMutation({
    mutationFn: () =>
      request<AnswerOf<typeof revealApi.POST>>('POST', `/api/holdings/items/${item}/reveal`, {
        detector: finding.detector,
        number: match.number,
      }),
    onSuccess: ({ value }) => setClear(value),
    onError: tellFailure,
  });
  const whole = match.masked === '';
  return (
    <>
      <tr>
        <td>{clear ?? (whole ? 'the whole item' : match.masked)}</td>
        <td>{placeWords(match.content.place, match.content.heading)}</td>
        <td>
          <Button kind="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
            {bandOf(match.confidence)}
          </Button>
        </td>
        <td>
          <div className={css['acts']}>
            {match.judged && (
              <span
                className={css['judged']}
                title={`${match.judged.by}, ${whenWords(match.judged.at)}${match.judged.reason ? `: ${match.judged.reason}` : ''}`}
              >
                judged {match.judged.holds ? 'right' : 'wrong'}
              </span>
            )}
            {mayJudge && !finding.rehearsed && (
              <>
                {match.judged?.holds !== true && (
                  <Button kind="quiet" busy={judge.isPending} onClick={() => judge.mutate(true)}>
                    Right
                  </Button>
                )}
                {match.judged?.holds !== false && (
                  <Button kind="quiet" busy={judge.isPending} onClick={() => judge.mutate(false)}>
                    Wrong
                  </Button>
                )}
              </>
            )}
            {mayReveal && !whole && clear === undefined && !finding.rehearsed && (
              <Button
                kind="quiet"
                busy={reveal.isPending}
                title="That you looked goes to the ledger."
                onClick={() => reveal.mutate()}
              >
                Show
              </Button>
            )}
          </div>
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={4}>
            <StepList steps={match.content.steps} confidence={match.confidence} />
          </td>
        </tr>
      )}
    </>
  );
}

/** Where in an item it stands. */
export function placeWords(
  { part, page, sheet, cell, row, line, path, header, role }: Place,
  heading?: string,
): string {
  const words = [
    part && `in ${part}`,
    sheet && `sheet ${sheet}`,
    cell ? `cell ${cell}` : row !== undefined && `row ${row}`,
    page !== undefined && `page ${page}`,
    line !== undefined && `line ${line}`,
    path,
    header,
    role,
    heading && `under “${heading}”`,
  ];
  return words.filter(Boolean).join(', ');
}

/** Its text, read again from the source when somebody asks. */
function ItemTextView({ id }: { readonly id: string }) {
  const may = useMay('holdings.judge');
  const read = useMutation({
    mutationFn: () => request<AnswerOf<typeof textApi.POST>>('POST', `/api/holdings/items/${id}/text`, {}),
    onError: tellFailure,
  });
  if (!may) return null;
  return (
    <section>
      <h2 className={css['heading']}>Its text</h2>
      {read.data ? (
        <>
          {read.data.changed && <p>◆ It was changed since it was surveyed; this is how it reads now.</p>}
          {read.data.problems.map((p) => (
            <p key={p}>{p}</p>
          ))}
          <div className={css['text']} tabIndex={0} role="region" aria-label="Text, masked">
            {read.data.pieces.map((p, i) =>
              'text' in p ? (
                p.text
              ) : (
                <mark key={i} title={p.detector}>
                  {p.masked}
                </mark>
              ),
            )}
            {read.data.cut && '\n…'}
          </div>
        </>
      ) : (
        <p>
          <Button busy={read.isPending} onClick={() => read.mutate()}>
            Read it from its source
          </Button>{' '}
          Values that detectors find are masked. That you read it goes to the ledger.
        </p>
      )}
    </section>
  );
}

/** Why the item is in the lens that is looked through. */
export function ItemSoundings({ id }: { readonly id: string }) {
  const { item } = useItem(id);
  if (!item.data) return null;
  const { why } = item.data;
  return (
    <>
      <ItemPanels id={id} />
      <SoundingsSection title="Why it is in the lens">
        {why.length === 0 ? (
          <p>The lens is everything that was read.</p>
        ) : (
          <ul className={css['why']}>
            {why.map((w) => (
              <li key={w.words}>
                {w.holds ? '✓' : '–'} {w.words}
                <br />
                <span className={css['judged']}>here: {w.found}</span>
              </li>
            ))}
          </ul>
        )}
      </SoundingsSection>
    </>
  );
}
