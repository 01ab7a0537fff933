/** What a browser has and a document without layout lacks: sizes, windows, and names escaped for a selector. */
export function standInForLayout(): void {
  globalThis.ResizeObserver ??= class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  globalThis.IntersectionObserver ??= class {
    observe() {}
    disconnect() {}
  } as unknown as typeof IntersectionObserver;
  globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, (c) => `\\${c}`) } as typeof CSS;
  for (const [side, size] of [
    ['clientHeight', 400],
    ['clientWidth', 600],
    ['offsetHeight', 400],
    ['offsetWidth', 600],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => size });
  HTMLDialogElement.prototype.showModal ??= function (this: HTMLDialogElement) {
    this.open = true;
  };
  HTMLDialogElement.prototype.close ??= function (this: HTMLDialogElement) {
    this.open = false;
  };
}
