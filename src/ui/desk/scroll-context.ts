import { createContext, type RefObject } from 'react';

/** The element that scrolls the sheet, for tables that draw only what is in view. */
export const ScrollContext = createContext<RefObject<HTMLElement | null>>({ current: null });
