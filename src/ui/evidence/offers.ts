// What other areas may use of this one.
export { BoardGlance } from './boards/BoardGlance.tsx';
export { useBoards, useShownBoard } from './boards/use-boards.ts';
