import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
} from '@dnd-kit/core';
import {
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useQueryClient } from '@tanstack/react-query';
import { GripVertical } from 'lucide-react';
import { useState } from 'react';
import {
  freeTileId,
  MOST_TILES,
  movedTile,
  SHOWN_AS,
  Tile,
  type Board,
  type ShownAs,
} from '../../../core/figures/board.ts';
import { PERIODS, type Period } from '../../../core/figures/comparison.ts';
import { PARTS, type Part } from '../../../core/figures/figure.ts';
import type { ShownBoard, ShownTile } from '../../../server/desk/shown-board.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { RemoveDialog } from '../../parts/RemoveDialog.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { TileBody } from './TileBody.tsx';
import { useBoard, useCatalogue, useShownBoard } from './use-boards.ts';
import css from './boards.module.css';

const AS_WORDS: Readonly<Record<ShownAs, string>> = {
  number: 'A number with how it went',
  line: 'A line over time',
  bars: 'Bars',
  table: 'A table',
};

export function figureLink(figure: string, day?: string): string {
  return `/evidence/figures/${encodeURIComponent(figure)}${day ? `?day=${day}` : ''}`;
}

/** Figures that are looked at together: each opens to its rows. */
export function BoardSheet({ id }: { readonly id: number }) {
  const { query } = useDeskLocation();
  const day = query.get('day') ?? undefined;
  const shown = useShownBoard(id, day);
  const mayEdit = useMay('boards.edit');
  const [isArranging, setArranging] = useState(false);
  if (shown.isError) return <Failure error={shown.error} onRetry={() => void shown.refetch()} />;
  if (!shown.data) return <Loading what="the board" />;
  return (
    <Loaded
      {...{ id, shown: shown.data, mayEdit, isArranging: isArranging && mayEdit && !day }}
      onArrange={setArranging}
    />
  );
}

function Loaded({
  id,
  shown,
  mayEdit,
  isArranging,
  onArrange,
}: {
  readonly id: number;
  readonly shown: ShownBoard;
  readonly mayEdit: boolean;
  readonly isArranging: boolean;
  readonly onArrange: (on: boolean) => void;
}) {
  const { query } = useDeskLocation();
  const kept = useBoard(id);
  const board = kept.query.data?.content ?? shown.board;
  const client = useQueryClient();
  const save = async (next: Board, done: string) => {
    await kept.save(next, done);
    await client.invalidateQueries({ queryKey: ['shown board', String(id)] });
  };
  const change = (tile: string, to: Partial<Tile>, done: string) =>
    save({ ...board, tiles: board.tiles.map((t) => (t.id === tile ? { ...t, ...to } : t)) }, done);
  const byId = new Map(shown.tiles.map((t) => [t.tile.id, t]));
  const tiles = board.tiles.map((t) => ({ tile: t, shown: byId.get(t.id) }));
  const [isRemoving, setRemoving] = useState(false);
  const remove = async () => {
    await request('DELETE', `/api/evidence/boards/${id}`);
    tell(`“${board.name}” is gone.`);
    go('/evidence/boards');
  };
  return (
    <>
      <SheetHead
        title={board.name}
        detail={`${shown.day === todayIso() ? 'Today' : `On ${dateWords(shown.day)}`}, compared with ${dateWords(shown.comparedWith)}, the end of last ${board.compare}`}
        actions={
          <>
            {mayEdit && query.get('day') === null && (
              <Button onClick={() => onArrange(!isArranging)} aria-pressed={isArranging}>
                {isArranging ? 'Done' : 'Arrange it'}
              </Button>
            )}
            {mayEdit && (
              <MenuButton
                label="More"
                acts={[
                  {
                    id: 'copy',
                    words: 'Make one like it',
                    act: () => setQuery({ new: 'board', like: String(id) }),
                  },
                  { id: 'words', words: 'Say what it is for', act: () => setQuery({ words: 'board' }) },
                  { id: 'remove', words: 'Remove it, with its addresses', act: () => setRemoving(true) },
                ]}
              />
            )}
          </>
        }
      />
      {isRemoving && (
        <RemoveDialog
          name={board.name}
          lost="Everybody loses the board, and whoever has an address of it sees nothing any more."
          onRemove={remove}
          onClose={() => setRemoving(false)}
        />
      )}
      {board.about && <p className={css['about']}>{board.about}</p>}
      {query.get('day') !== null && (
        <p className={css['filters']}>
          This is how it stood then.
          <Button onClick={() => setQuery({ day: null })}>Show it as it is now</Button>
        </p>
      )}
      {isArranging && (
        <p className={css['filters']}>
          Compared with last
          <SelectField
            label="Compared with last"
            value={board.compare}
            options={PERIODS.map((p) => ({ value: p, words: p }))}
            onChange={(p) => void save({ ...board, compare: p as Period }, `Compared with last ${p}.`)}
          />
        </p>
      )}
      {board.tiles.length === 0 && (
        <Empty title="Nothing is on it yet">
          {mayEdit
            ? 'Arrange it, and take in the figures that drive what you decide.'
            : 'Nobody put a figure on it.'}
        </Empty>
      )}
      <Tiles
        {...{ tiles, isArranging, compare: board.compare, day: query.get('day') }}
        chosen={query.get('tile')}
        onMove={(tile, to) => void save({ ...board, tiles: [...movedTile(board.tiles, tile, to)] }, 'Moved.')}
        onChange={(tile, to, done) => void change(tile, to, done)}
        onRemove={(tile) =>
          void save({ ...board, tiles: board.tiles.filter((t) => t.id !== tile) }, 'Taken off the board.')
        }
      />
      {isArranging && (
        <AddFigure
          board={board}
          onAdd={(figure) =>
            void save(
              { ...board, tiles: [...board.tiles, Tile.parse({ id: freeTileId(board.tiles), figure })] },
              'Put on the board.',
            )
          }
        />
      )}
    </>
  );
}

function todayIso(): string {
  return new Date().toISOString().slice(0, 10);
}

interface TilesProps {
  readonly tiles: readonly { readonly tile: Tile; readonly shown: ShownTile | undefined }[];
  readonly isArranging: boolean;
  readonly compare: Period;
  readonly day: string | null;
  readonly chosen: string | null;
  readonly onMove: (tile: string, to: number) => void;
  readonly onChange: (tile: string, to: Partial<Tile>, done: string) => void;
  readonly onRemove: (tile: string) => void;
}

function Tiles(props: TilesProps) {
  const { tiles, isArranging, onMove } = props;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const nameOf = (id: unknown) => tiles.find((t) => t.tile.id === id)?.shown?.figure?.name ?? 'the figure';
  const placeOf = (id: unknown) => tiles.findIndex((t) => t.tile.id === id);
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${nameOf(active.id)} is taken up.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} is at place ${placeOf(over.id) + 1} of ${tiles.length}.` : undefined,
    onDragEnd: ({ active, over }) =>
      `${nameOf(active.id)} is put down${over ? ` at place ${placeOf(over.id) + 1}` : ''}.`,
    onDragCancel: ({ active }) => `${nameOf(active.id)} is back where it was.`,
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        announcements,
        screenReaderInstructions: {
          draggable: 'Space takes it up, arrows move it, Space puts it down, Escape leaves it where it was.',
        },
      }}
      onDragEnd={({ active, over }) => {
        const to = over ? placeOf(over.id) : -1;
        if (to >= 0 && to !== placeOf(active.id)) onMove(String(active.id), to);
      }}
    >
      <SortableContext
        items={tiles.map((t) => t.tile.id)}
        strategy={rectSortingStrategy}
        disabled={!isArranging}
      >
        <ul className={css['tiles']} aria-label="Figures">
          {tiles.map((t) => (
            <OneTile key={t.tile.id} {...t} all={props} />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  );
}

function OneTile({
  tile,
  shown,
  all,
}: {
  readonly tile: Tile;
  readonly shown: ShownTile | undefined;
  readonly all: TilesProps;
}) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } =
    useSortable({ id: tile.id });
  const name = shown?.figure?.name ?? tile.figure;
  const day = all.day ?? undefined;
  return (
    <li
      ref={setNodeRef}
      className={css['tile']}
      data-wide={tile.as === 'number' ? undefined : true}
      data-moving={isDragging || undefined}
      style={{ transform: CSS.Translate.toString(transform) ?? '', transition: transition ?? '' }}
    >
      <div className={css['head']}>
        <h2>
          {shown?.figure ? (
            <a
              href={figureLink(tile.figure, day)}
              title="Opens its rows"
              onClick={(e) => {
                if (e.ctrlKey || e.metaKey || e.shiftKey) return;
                e.preventDefault();
                go(figureLink(tile.figure, day));
              }}
            >
              {name}
            </a>
          ) : (
            name
          )}
        </h2>
        <span className={css['tools']}>
          {all.isArranging ? (
            <>
              <button
                type="button"
                ref={setActivatorNodeRef}
                className={css['grip']}
                {...attributes}
                {...listeners}
                aria-label={`Move ${name}`}
              >
                <GripVertical size={14} aria-hidden /> Move
              </button>
              <TileMenu tile={tile} shown={shown} all={all} />
            </>
          ) : (
            shown?.figure && (
              <Button
                kind="quiet"
                aria-label={`Explain ${name}`}
                aria-pressed={all.chosen === tile.id}
                onClick={() => setQuery({ tile: all.chosen === tile.id ? null : tile.id })}
              >
                Why
              </Button>
            )
          )}
        </span>
      </div>
      {shown ? (
        <TileBody
          shown={{ ...shown, tile }}
          compare={all.compare}
          onDay={(d) => go(figureLink(tile.figure, d))}
        />
      ) : (
        <p className={css['hidden']}>…</p>
      )}
    </li>
  );
}

const BACK = [
  [30, 'a month'],
  [90, 'three months'],
  [365, 'a year'],
  [730, 'two years'],
] as const;

function TileMenu({
  tile,
  shown,
  all,
}: {
  readonly tile: Tile;
  readonly shown: ShownTile | undefined;
  readonly all: TilesProps;
}) {
  const parts: readonly Part[] = shown?.figure?.parts ?? [];
  return (
    <MenuButton
      label="Show it as"
      of={shown?.figure?.name ?? tile.figure}
      acts={[
        ...SHOWN_AS.map((as) => ({
          id: `as ${as}`,
          words: `${tile.as === as ? '✓ ' : ''}${AS_WORDS[as]}`,
          act: () => all.onChange(tile.id, { as }, `Shown as ${AS_WORDS[as].toLowerCase()}.`),
        })),
        ...(parts.length === 0 || tile.as === 'number' || tile.as === 'line'
          ? []
          : [null, ...parts].map((by) => ({
              id: `by ${by ?? 'time'}`,
              words: `${tile.by === by ? '✓ ' : ''}By ${by === null ? 'time' : PARTS[by]}`,
              act: () => all.onChange(tile.id, { by }, `By ${by === null ? 'time' : PARTS[by]}.`),
            }))),
        ...BACK.map(([days, words]) => ({
          id: `days ${days}`,
          words: `${tile.days === days ? '✓ ' : ''}${words[0]?.toUpperCase() ?? ''}${words.slice(1)} back`,
          act: () => all.onChange(tile.id, { days }, `It goes back ${words}.`),
        })),
        { id: 'remove', words: 'Take it off the board', act: () => all.onRemove(tile.id) },
      ]}
    />
  );
}

function AddFigure({ board, onAdd }: { readonly board: Board; readonly onAdd: (figure: string) => void }) {
  const catalogue = useCatalogue().data;
  if (board.tiles.length >= MOST_TILES)
    return (
      <p className={css['add']}>
        Eight figures are on it: take one off first. A board that says everything is not read.
      </p>
    );
  if (!catalogue) return <Loading what="the figures" />;
  return (
    <p className={css['add']}>
      Put on it
      <SelectField
        label="Put on it"
        value="a figure"
        options={catalogue.map((f) => ({ value: f.id, words: f.name, detail: f.definition }))}
        onChange={onAdd}
      />
    </p>
  );
}
