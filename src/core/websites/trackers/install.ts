/** The line a site puts first in its head. */
export function installSnippet(visitorOrigin: string, siteKey: string): string {
  return `<script src="${visitorOrigin}/${siteKey}.js"></script>`;
}

/** How a site marks a script so that it waits for a purpose. */
export function heldScriptExample(purpose: string): string {
  return `<script type="text/plain" data-yare-purpose="${purpose}" src="…"></script>`;
}

/** What a browser found on a page about our script. */
export interface InstallFacts {
  readonly reached: boolean;
  /** Place of our script among the page's scripts, 0 first; -1 when it is not there. */
  readonly position: number;
  readonly scripts: number;
  /** It waits (async, defer or module), so that later scripts may run before it. */
  readonly waits: boolean;
  readonly siteKeyMatches: boolean;
  readonly started: boolean;
  readonly noticeShown: boolean;
  /** Whether a notice is in force or rehearsing, so that one could be shown at all. */
  readonly noticeExpected: boolean;
  readonly error: string;
}

export interface InstallStep {
  readonly met: boolean;
  readonly words: string;
  readonly fix: string;
}

/** The check in the order a person would mend it. */
export function installVerdict(f: InstallFacts): readonly InstallStep[] {
  if (!f.reached) return [{ met: false, words: 'The page could not be loaded', fix: f.error }];
  const here = f.position >= 0;
  const steps: InstallStep[] = [
    {
      met: here,
      words: here ? 'The script is on the page' : 'The script is not on the page',
      fix: 'Paste the line into the head of every page.',
    },
  ];
  if (!here) return steps;
  steps.push(
    {
      met: f.siteKeyMatches,
      words: f.siteKeyMatches ? 'It is this site’s own line' : 'It is the line of another site',
      fix: 'Copy the line from this page, not from another site.',
    },
    f.waits
      ? {
          met: false,
          words: 'It waits before it starts',
          fix: 'Take async, defer and type="module" out of the line: other scripts can overtake it.',
        }
      : {
          met: f.position === 0,
          words:
            f.position === 0
              ? `It is the first of ${f.scripts} scripts`
              : `${f.position} scripts come before it`,
          fix: 'Move the line above every other script.',
        },
    {
      met: f.started,
      words: f.started ? 'It starts and has its settings' : 'It does not start',
      fix: f.error || 'Look in the browser’s console for what keeps it from loading.',
    },
  );
  if (f.noticeExpected)
    steps.push({
      met: f.noticeShown,
      words: f.noticeShown ? 'A new visitor sees the notice' : 'A new visitor sees no notice',
      fix: 'Put a notice in force, and look for styles that cover it.',
    });
  return steps;
}
