import { provedMeasures, type Proof, type ProvedControl, type ProvedMeasure } from '../work/proof.ts';
import { readinessOf } from '../readiness/readiness.ts';
import { OSCAL_VERSION, prop, tokenOf, uuidOf } from './oscal.ts';

/** A proof as OSCAL assessment results: an observation of each measure, and a finding of each control. */
export function oscalResults(proof: Proof): object {
  const { framework, cycle, at, day } = proof;
  const name = `${framework.id} ${framework.version} ${cycle}`;
  const [plan, tool, assessor] = [uuidOf(`plan ${name}`), uuidOf('tool'), uuidOf('assessor')];
  const applying = proof.controls.filter((c) => c.applies);
  const excluded = proof.controls.filter((c) => !c.applies);
  const ready = readinessOf(proof.tally);
  const measures = provedMeasures(proof);
  return {
    'assessment-results': {
      uuid: uuidOf(`results ${name} ${at}`),
      metadata: {
        title: `${line(framework.title)}: ${line(cycle)}`,
        'last-modified': at,
        version: day,
        'oscal-version': OSCAL_VERSION,
        props: [prop('framework', framework.id), prop('framework-version', framework.version)],
        roles: [{ id: 'assessor', title: 'Who assessed it' }],
        parties: [{ uuid: assessor, type: 'organization', name: 'The organisation itself' }],
        'responsible-parties': [{ 'role-id': 'assessor', 'party-uuids': [assessor] }],
      },
      'import-ap': { href: `#${plan}`, remarks: 'There was no plan apart from the framework itself.' },
      results: [
        {
          uuid: uuidOf(`result ${name} ${at}`),
          title: `${line(framework.name)} in ${line(cycle)}`,
          description:
            ready === null
              ? 'No control applies.'
              : `Readiness ${ready.toFixed(2)} of 100. Led by ${proof.lead}.${proof.scope.map((s) => ` ${s.what}: ${s.words}.`).join('')}`,
          start: at,
          end: at,
          ...(ready === null ? {} : { props: [prop('readiness', ready)] }),
          'reviewed-controls': {
            'control-selections': [
              {
                ...(applying.length > 0
                  ? { 'include-controls': applying.map((c) => ({ 'control-id': tokenOf(c.control.id) })) }
                  : { 'include-all': {} }),
                ...(excluded.length > 0
                  ? { 'exclude-controls': excluded.map((c) => ({ 'control-id': tokenOf(c.control.id) })) }
                  : {}),
              },
            ],
          },
          ...(measures.length > 0
            ? { observations: measures.map((m) => observation(m, name, at, tool, assessor)) }
            : {}),
          findings: proof.controls.map((c) => finding(c, name)),
        },
      ],
      'back-matter': {
        resources: [
          { uuid: plan, title: 'No assessment plan', description: 'The framework is the plan.' },
          ...evidenceResources(measures, name),
          ...(proof.ledger
            ? [
                {
                  uuid: uuidOf(`ledger ${proof.ledger.head}`),
                  title: `Head ${proof.ledger.number} of the ledger`,
                  description: `Sealed at ${proof.ledger.sealedAt}: Merkle trees (RFC 6962), their heads chained.`,
                  props: [
                    prop('ledger-number', proof.ledger.number),
                    prop('ledger-head', proof.ledger.head),
                    prop('ledger-sealed', proof.ledger.sealedAt),
                  ],
                },
              ]
            : []),
        ],
      },
    },
  };
}

/** A file of evidence is one, however many measures it stands behind. */
function evidenceResources(measures: readonly ProvedMeasure[], name: string) {
  const files = new Map(measures.flatMap((m) => m.evidence.map((e) => [e.id, e])));
  return [...files.values()].map((e) => ({
    uuid: uuidOf(`evidence ${e.id} ${name}`),
    title: line(e.name),
    props: [prop('sha-256', e.hash), ...(e.until === null ? [] : [prop('counts-until', e.until)])],
  }));
}

const METHODS = { person: 'EXAMINE', program: 'TEST', provider: 'INTERVIEW', nobody: 'UNKNOWN' } as const;

function observation(m: ProvedMeasure, name: string, at: string, tool: string, party: string) {
  const { measure, work } = m;
  const told = [work.how && `Done: ${work.how}`, m.tested && `Tested: ${m.tested}`]
    .filter(Boolean)
    .join('\n\n');
  return {
    uuid: observed(measure.id, name),
    title: line(measure.name),
    description: told || 'Nothing was told yet.',
    props: [
      ...[prop('measure', measure.id), prop('state', work.state), prop('whose', measure.whose)],
      ...(m.test === null ? [] : [prop('test', m.test)]),
      ...(m.doneBy === '' ? [] : [prop('done-by', m.doneBy)]),
      ...(m.testedBy === '' ? [] : [prop('tested-by', m.testedBy)]),
      ...(work.reason === '' ? [] : [prop('reason', work.reason)]),
    ],
    methods: [METHODS[m.by]],
    types: ['control-objective'],
    origins: [
      {
        actors: [
          m.by === 'program' ? { type: 'tool', 'actor-uuid': tool } : { type: 'party', 'actor-uuid': party },
        ],
      },
    ],
    ...(m.evidence.length === 0
      ? {}
      : {
          'relevant-evidence': m.evidence.map((e) => ({
            href: `#${uuidOf(`evidence ${e.id} ${name}`)}`,
            description: `${line(e.name)}, SHA-256 ${e.hash}`,
          })),
        }),
    collected: m.testedOn === '' ? at : `${m.testedOn.slice(0, 10)}T00:00:00Z`,
  };
}

const observed = (measure: string, name: string) => uuidOf(`observation ${measure} ${name}`);

function finding(c: ProvedControl, name: string) {
  const { control, applies, reason } = c;
  const counting = c.measures.filter((m) => m.applies);
  const whole = applies && counting.length > 0 && counting.every((m) => m.gives);
  const gone = counting.filter((m) => !m.gives);
  return {
    uuid: uuidOf(`finding ${control.id} ${name}`),
    title: line(`${control.ref} ${control.name}`),
    description: applies ? control.guidance : `It does not apply: ${reason}`,
    target: {
      type: 'objective-id',
      'target-id': tokenOf(control.id),
      status: {
        state: whole || !applies ? 'satisfied' : 'not-satisfied',
        reason: applies ? (whole ? 'pass' : 'fail') : 'other',
        ...(applies
          ? gone.length > 0
            ? { remarks: gone.map((m) => `${m.id}: ${m.why ?? ''}`).join('\n') }
            : {}
          : { remarks: `Not applicable: ${reason}` }),
      },
    },
    ...(counting.length === 0
      ? {}
      : { 'related-observations': counting.map((m) => ({ 'observation-uuid': observed(m.id, name) })) }),
  };
}

const line = (text: string) => text.replace(/\s+/g, ' ').trim();
