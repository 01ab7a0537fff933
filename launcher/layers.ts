import { cruise, type IForbiddenRuleType, type IRegularForbiddenRuleType } from 'dependency-cruiser';
import { AREAS } from '../src/core/areas.ts';
import { PROJECT } from './project.ts';

/** Which folders a layer may import from. */
const MAY: Readonly<Record<string, readonly string[]>> = {
  'src/core': ['src/core'],
  'src/server': ['src/core', 'src/server'],
  'src/pages': ['src/pages', 'src/server', 'src/core', 'src/ui'],
  'src/ui': ['src/ui', 'src/core'],
  'src/visitor': ['src/visitor', 'src/core/websites', 'src/core/text'],
  standins: ['standins', 'src/core', 'src/server'],
  // The stand-ins are the outside of the demo.
  demo: ['demo', 'standins', 'src/core', 'src/server'],
};
/** Types tell what an endpoint takes and answers. */
const TYPES_ONLY: Readonly<Record<string, readonly string[]>> = {
  'src/ui': ['src/server', 'src/pages/api'],
  'src/visitor': ['src/core'],
};
/** Core is pure; what it may not use of the language the linter knows. */
const IMPURE = '(^|/)(mysql2|playwright-core|pino|astro|react|react-dom)/';

/** What every area stands on; the others keep out of each other. */
const SHARED = ['desk', 'accounts', 'evidence'];
const areas = AREAS.map((a) => a.area)
  .filter((a) => !SHARED.includes(a))
  .join('|');
const LAYER = '^src/(?:core|server|ui)';

const rule = (
  name: string,
  from: IRegularForbiddenRuleType['from'],
  to: IRegularForbiddenRuleType['to'],
): IForbiddenRuleType => ({ name, severity: 'error', from, to });
const folders = (names: readonly string[]) => names.map((n) => `^${n}/`);

const RULES: readonly IForbiddenRuleType[] = [
  ...Object.entries(MAY).flatMap(([layer, may]) => {
    const only = TYPES_ONLY[layer] ?? [];
    const from = { path: `^${layer}/` };
    const ours = '^(src|standins|demo|launcher|tests|bench)/';
    return [
      rule(`${layer} may not import this`, from, { path: ours, pathNot: folders([...may, ...only]) }),
      rule(`${layer} may only import types from here`, from, {
        path: only.length ? folders(only) : '^$',
        pathNot: folders(may),
        dependencyTypesNot: ['type-only'],
      }),
    ];
  }),
  rule('core may not touch the world', { path: '^src/core/' }, { dependencyTypes: ['core'] }),
  rule('core may not touch the world', { path: '^src/core/' }, { path: IMPURE }),
  rule(
    'an area may only use what another offers in its area.ts or offers.ts',
    { path: `${LAYER}/(${areas})/` },
    { path: `${LAYER}/(${areas})/`, pathNot: [`${LAYER}/$1/`, '/(?:area|offers)[.]ts$'] },
  ),
  rule(
    'what all areas share may not know one',
    { path: `${LAYER}/`, pathNot: [`${LAYER}/(${areas})/`, '/areas[.]ts$', '^src/server/entries/'] },
    { path: `${LAYER}/(${areas})/` },
  ),
  // What is loaded on demand may lead back to what loads it.
  rule('a circle', {}, { circular: true, viaOnly: { dependencyTypesNot: ['dynamic-import'] } }),
];

export interface WrongArrow {
  readonly rule: string;
  readonly from: string;
  /** What it imports; all of a circle. */
  readonly to: string;
}

/** Every import of the project that goes against the arrows of its layers and areas. */
export async function wrongArrows(root: string = PROJECT): Promise<readonly WrongArrow[]> {
  const { output } = await cruise(Object.keys(MAY), {
    baseDir: root,
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '[.]test[.]tsx?$' },
    validate: true,
    ruleSet: { forbidden: [...RULES] },
  });
  if (typeof output === 'string') throw new Error(output);
  return output.summary.violations.map((v) => ({
    rule: v.rule.name,
    from: v.from,
    to: v.cycle?.map((c) => c.name).join(' → ') ?? v.to,
  }));
}
