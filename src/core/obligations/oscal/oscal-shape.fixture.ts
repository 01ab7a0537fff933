import { z } from 'zod';

/**
 * OSCAL 1.1 as its models define it, restated for what is written here: which fields there are, which are needed, and how
 * tokens, UUIDs, instants and single-line strings look. No list may be empty, and nothing else may stand there.
 */
const Token = z.string().regex(/^(?:\p{L}|_)(?:\p{L}|\p{N}|[.\-_])*$/u);
const Uuid = z
  .string()
  .regex(/^[0-9A-Fa-f]{8}-[0-9A-Fa-f]{4}-[45][0-9A-Fa-f]{3}-[89ABab][0-9A-Fa-f]{3}-[0-9A-Fa-f]{12}$/);
const Line = z.string().regex(/^\S(?:.*\S)?$/u);
const Zoned = z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?(?:Z|[+-]\d\d:\d\d)$/);
const Text = z.string().min(1);
const Uri = z.string().regex(/^\S+$/);
const some = <T extends z.ZodType>(of: T) => z.array(of).min(1).optional();

const Prop = z.strictObject({
  name: Token,
  uuid: Uuid.optional(),
  ns: z.url().optional(),
  value: Line,
  class: Token.optional(),
  group: Token.optional(),
  remarks: Text.optional(),
});
const Link = z.strictObject({
  href: Uri,
  rel: Token.optional(),
  'media-type': Line.optional(),
  text: Text.optional(),
});
const Metadata = z.strictObject({
  title: Text,
  published: Zoned.optional(),
  'last-modified': Zoned,
  version: Line,
  'oscal-version': z.string().regex(/^1\.1\.\d+$/),
  props: some(Prop),
  links: some(Link),
  roles: some(z.strictObject({ id: Token, title: Text })),
  parties: some(
    z.strictObject({ uuid: Uuid, type: z.enum(['person', 'organization']), name: Line.optional() }),
  ),
  'responsible-parties': some(z.strictObject({ 'role-id': Token, 'party-uuids': z.array(Uuid).min(1) })),
  remarks: Text.optional(),
});
const Resource = z.strictObject({
  uuid: Uuid,
  title: Text.optional(),
  description: Text.optional(),
  props: some(Prop),
  rlinks: some(
    z.strictObject({
      href: Uri,
      'media-type': Line.optional(),
      hashes: some(
        z.strictObject({ algorithm: z.literal('SHA-256'), value: z.string().regex(/^[0-9a-f]{64}$/) }),
      ),
    }),
  ),
  base64: z
    .strictObject({ filename: Token.optional(), 'media-type': Line.optional(), value: z.base64() })
    .optional(),
  remarks: Text.optional(),
});
const BackMatter = z.strictObject({ resources: some(Resource) });
const Part = z.strictObject({ id: Token.optional(), name: Token, prose: Text.optional() });
const Control = z.strictObject({
  id: Token,
  class: Token.optional(),
  title: Text,
  props: some(Prop),
  links: some(Link),
  parts: some(Part),
});
const Group = z.strictObject({
  id: Token.optional(),
  title: Text,
  props: some(Prop),
  controls: some(Control),
});

const Subject = z.strictObject({ 'subject-uuid': Uuid, type: Token, title: Text.optional() });
const Observation = z.strictObject({
  uuid: Uuid,
  title: Text.optional(),
  description: Text,
  props: some(Prop),
  methods: z.array(z.enum(['EXAMINE', 'INTERVIEW', 'TEST', 'UNKNOWN'])).min(1),
  types: some(Token),
  origins: some(
    z.strictObject({
      actors: z
        .array(z.strictObject({ type: z.enum(['tool', 'party', 'assessment-platform']), 'actor-uuid': Uuid }))
        .min(1),
    }),
  ),
  subjects: some(Subject),
  'relevant-evidence': some(z.strictObject({ href: Uri.optional(), description: Text, props: some(Prop) })),
  collected: Zoned,
  expires: Zoned.optional(),
  remarks: Text.optional(),
});
const Finding = z.strictObject({
  uuid: Uuid,
  title: Text,
  description: Text,
  props: some(Prop),
  target: z.strictObject({
    type: z.enum(['statement-id', 'objective-id']),
    'target-id': Token,
    title: Text.optional(),
    status: z.strictObject({
      state: z.enum(['satisfied', 'not-satisfied']),
      reason: Token.optional(),
      remarks: Text.optional(),
    }),
  }),
  'related-observations': some(z.strictObject({ 'observation-uuid': Uuid })),
  remarks: Text.optional(),
});
const Include = z.strictObject({});

export const OscalDocument = z.union([
  z.strictObject({
    catalog: z.strictObject({
      uuid: Uuid,
      metadata: Metadata,
      controls: some(Control),
      groups: some(Group),
      'back-matter': BackMatter.optional(),
    }),
  }),
  z.strictObject({
    profile: z.strictObject({
      uuid: Uuid,
      metadata: Metadata,
      imports: z
        .array(
          z.strictObject({
            href: Uri,
            'include-all': Include.optional(),
            'include-controls': some(z.strictObject({ 'with-ids': z.array(Token).min(1) })),
          }),
        )
        .min(1),
      merge: z.strictObject({
        combine: z.strictObject({ method: z.enum(['use-first', 'merge', 'keep']) }).optional(),
        'as-is': z.boolean().optional(),
      }),
      'back-matter': BackMatter.optional(),
    }),
  }),
  z.strictObject({
    'assessment-results': z.strictObject({
      uuid: Uuid,
      metadata: Metadata,
      'import-ap': z.strictObject({ href: Uri, remarks: Text.optional() }),
      results: z
        .array(
          z.strictObject({
            uuid: Uuid,
            title: Text,
            description: Text,
            start: Zoned,
            end: Zoned.optional(),
            props: some(Prop),
            'reviewed-controls': z.strictObject({
              'control-selections': z
                .array(
                  z.strictObject({
                    'include-all': Include.optional(),
                    'include-controls': some(z.strictObject({ 'control-id': Token })),
                    'exclude-controls': some(z.strictObject({ 'control-id': Token })),
                  }),
                )
                .min(1),
            }),
            observations: some(Observation),
            findings: some(Finding),
          }),
        )
        .min(1),
      'back-matter': BackMatter.optional(),
    }),
  }),
]);
