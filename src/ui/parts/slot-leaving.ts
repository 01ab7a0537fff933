import { createContext, type RefObject } from 'react';

/** What the editor in an open slot does when the focus leaves it: keeps what was typed, or says why not. */
export const SlotLeaving = createContext<RefObject<(() => void) | undefined> | undefined>(undefined);
