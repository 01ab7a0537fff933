import type { ClickPath, SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import { isSealed, openText, sealText } from '../../secret.ts';

function each(paths: SitePaths, change: (path: ClickPath, name: keyof SitePaths) => ClickPath): SitePaths {
  return {
    signIn: change(paths.signIn, 'signIn'),
    refuse: change(paths.refuse, 'refuse'),
    accept: change(paths.accept, 'accept'),
    choose: change(paths.choose, 'choose'),
  };
}

/** What a secret shows as, and stands for when it comes back unchanged. */
export const KEPT_SECRET = '…';

/** Paths as they are kept: secrets sealed. One that comes as `…` stays what it was in `before`, by its place on the page. */
export function sealPaths(key: string, paths: SitePaths, before: SitePaths): SitePaths {
  return each(paths, (path, name) =>
    path.map((step) => {
      if (step.act !== 'type' || !step.secret || isSealed(step.text)) return step;
      const kept = before[name].find((b) => b.act === 'type' && b.secret && b.on === step.on);
      if (step.text === KEPT_SECRET && kept?.act === 'type') return { ...step, text: kept.text };
      return { ...step, text: sealText(key, step.text) };
    }),
  );
}

/** Paths as a sweep plays them. */
export function openPaths(key: string, paths: SitePaths): SitePaths {
  return each(paths, (path) =>
    path.map((s) => (s.act === 'type' && isSealed(s.text) ? { ...s, text: openText(key, s.text) } : s)),
  );
}

/** Paths as the desk shows them. */
export function hidePaths(paths: SitePaths): SitePaths {
  return each(paths, (path) =>
    path.map((s) => (s.act === 'type' && s.secret ? { ...s, text: KEPT_SECRET } : s)),
  );
}

/** Paths as the ledger may tell of them: nothing of what is typed. */
export function bareOfText(paths: SitePaths): SitePaths {
  return each(paths, (path) => path.map((s) => (s.act === 'type' ? { ...s, text: KEPT_SECRET } : s)));
}
