import { lazy, Suspense, type ComponentType } from 'react';
import { Loading } from './states.tsx';

/** A part that is loaded when it is first shown. `what` is loading, in words. */
export function lazyPart<P extends object>(
  what: string,
  load: () => Promise<ComponentType<P>>,
): ComponentType<P> {
  const Part = lazy(async () => ({ default: await load() }));
  return function Lazy(props: P) {
    return (
      <Suspense fallback={<Loading what={what} />}>
        <Part {...props} />
      </Suspense>
    );
  };
}
