/**
 * The states of every rule (a notice, a detector, a retention rule …) and the acts that move it between them.
 * Versions count from 1 and never go back; taking a version back puts the older content in force as a new version.
 */
export type Stage =
  | { readonly state: 'draft' }
  /** `over` is the version that stays in force while the newer one is only counted. */
  | {
      readonly state: 'rehearsing';
      readonly version: number;
      readonly since: string;
      readonly over: Standing | null;
    }
  | { readonly state: 'in force'; readonly version: number; readonly since: string }
  | { readonly state: 'paused'; readonly version: number; readonly since: string }
  | { readonly state: 'retired'; readonly version: number | null; readonly since: string };

export interface Standing {
  readonly version: number;
  readonly since: string;
}

export type RuleState = Stage['state'];

export type Act =
  | { readonly act: 'rehearse'; readonly version: number }
  | { readonly act: 'end rehearsal' }
  | { readonly act: 'put in force'; readonly version: number }
  | { readonly act: 'pause' }
  | { readonly act: 'resume' }
  | { readonly act: 'retire' }
  | { readonly act: 'reopen' };

export type Moved =
  { readonly ok: true; readonly stage: Stage } | { readonly ok: false; readonly why: string };

/** What takes effect outside rehearsals, and since when; `undefined` when nothing does. */
export function inForceNow(stage: Stage): Standing | undefined {
  switch (stage.state) {
    case 'in force':
      return { version: stage.version, since: stage.since };
    case 'rehearsing':
      return stage.over ?? undefined;
    case 'draft':
    case 'paused':
    case 'retired':
      return undefined;
  }
}

/** The version that takes effect outside rehearsals; `undefined` when none does. */
export function versionInForce(stage: Stage): number | undefined {
  return inForceNow(stage)?.version;
}

/** The version a rehearsal sees: the rehearsed one, else the one in force. */
export function versionRehearsed(stage: Stage): number | undefined {
  return stage.state === 'rehearsing' ? stage.version : versionInForce(stage);
}

/** The acts that are open in a state, in the order a person would think of them. */
export function openActs(stage: Stage): readonly Act['act'][] {
  switch (stage.state) {
    case 'draft':
      return ['rehearse', 'put in force'];
    case 'rehearsing':
      return ['put in force', 'end rehearsal'];
    case 'in force':
      return ['rehearse', 'put in force', 'pause', 'retire'];
    case 'paused':
      return ['resume', 'retire'];
    case 'retired':
      return ['reopen'];
  }
}

/**
 * Moves a rule. `at` is an ISO 8601 instant given by the caller, since core has no clock.
 * A refused act leaves the stage as it was and says why.
 */
export function move(stage: Stage, act: Act, at: string): Moved {
  if (!openActs(stage).includes(act.act)) return { ok: false, why: refusal(stage, act.act) };
  switch (act.act) {
    case 'rehearse':
      return moved({ state: 'rehearsing', version: act.version, since: at, over: standing(stage) });
    case 'end rehearsal':
      return moved(endRehearsal(stage));
    case 'put in force': {
      const now = versionInForce(stage);
      if (now !== undefined && act.version < now)
        return { ok: false, why: `Version ${act.version} is older than version ${now}, which is in force.` };
      return moved({ state: 'in force', version: act.version, since: at });
    }
    case 'pause':
      return moved({ state: 'paused', version: versionInForce(stage) ?? 0, since: at });
    case 'resume':
      return moved({ state: 'in force', version: stage.state === 'paused' ? stage.version : 0, since: at });
    case 'retire':
      return moved({
        state: 'retired',
        version: stage.state === 'paused' ? stage.version : (versionInForce(stage) ?? null),
        since: at,
      });
    case 'reopen':
      return moved({ state: 'draft' });
  }
}

function moved(stage: Stage): Moved {
  return { ok: true, stage };
}

function standing(stage: Stage): Standing | null {
  return stage.state === 'in force' ? { version: stage.version, since: stage.since } : null;
}

function endRehearsal(stage: Stage): Stage {
  if (stage.state !== 'rehearsing' || stage.over === null) return { state: 'draft' };
  return { state: 'in force', ...stage.over };
}

function refusal(stage: Stage, act: Act['act']): string {
  const open = openActs(stage);
  return `A rule that is ${stage.state === 'draft' ? 'a draft' : stage.state} cannot be asked to ${act}. Open now: ${open.join(', ')}.`;
}
