import { VISITORS } from '../../../core/websites/trackers/visitor.ts';

export const SWEEP_HELP = `./yare sweep URL [options]

  Sweeps a website without the desk or a database, and writes what it found.

  --json FILE        where the report goes; - for standard output (docs/sweep-report.md describes it)
  --visitors LIST    of ${VISITORS.join(', ')}; all of them by default
  --region REGION    whose law holds, such as DK or US-CA; the strictest by default
  --chosen LIST      purposes that the visitor “chosen” allows; measurement by default
  --pages N          at most so many pages (250)
  --minutes N        at most so many minutes (30)
  --depth N          at most so many links from the start (12)
  --per-shape N      at most so many pages of one shape; all by default
  --pace MS          least milliseconds between two pages (0)
  --include PATTERN  only pages like this, such as /offers/*; may be given again
  --exclude PATTERN  no pages like this; may be given again
  --start PATH       one more page to begin at; may be given again
  --no-sitemap       follow links only
  --no-robots WHY    do not keep to robots.txt, because …
  --library FILE     known trackers, CSV or JSON as the desk exports them
  --sign-in FILE, --path-accept FILE, --path-refuse FILE, --path-choose FILE
                     recorded paths of clicks, a step a line:
                       go to /account
                       click "Sign in"                     the words on it, or a CSS selector
                       type "me@example" in #user
                       type secret "…" in #password         shown nowhere
                       wait for .welcome
  --dns HOST:PORT    the name server to ask for aliases
  --tabs N           pages at once of each visitor (2); two visitors walk at once, unless --pace is given

  The site's notice is read first: every control of it is tried in a clean profile, and what runs afterwards tells which
  refuses and which accepts; its switches are tried one by one. A recorded path stands above that.

  Ends with 0 when nothing leaks, 1 when something does, 2 when it could not begin or was called off, 3 when nothing leaks but
  not all could be tried: a visitor found no notice to answer, or its time ended.
`;
