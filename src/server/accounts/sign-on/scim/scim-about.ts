import { GROUP, LIST, USER } from '../../../../core/accounts/sign-on/scim.ts';

const no = { supported: false };

/** What is supported, by RFC 7643, 5. */
export const SERVICE = {
  schemas: ['urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig'],
  patch: { supported: true },
  bulk: { ...no, maxOperations: 0, maxPayloadSize: 0 },
  filter: { supported: true, maxResults: 500 },
  ...{ changePassword: no, sort: no, etag: no },
  authenticationSchemes: [
    {
      ...{ type: 'oauthbearertoken', name: 'Bearer token', primary: true },
      description: 'A token that an officer makes for the provider, with an end.',
    },
  ],
  meta: { resourceType: 'ServiceProviderConfig' },
};

const listed = (Resources: readonly object[]) => ({
  ...{ schemas: [LIST], totalResults: Resources.length, startIndex: 1, itemsPerPage: Resources.length },
  Resources,
});

/** RFC 7643, 6. */
export const RESOURCE_TYPES = listed(
  (
    [
      ['User', '/Users', USER],
      ['Group', '/Groups', GROUP],
    ] as const
  ).map(([id, endpoint, schema]) => ({
    schemas: ['urn:ietf:params:scim:schemas:core:2.0:ResourceType'],
    ...{ id, name: id, endpoint, schema, meta: { resourceType: 'ResourceType' } },
  })),
);

const attribute = (name: string, type: string, more: object = {}) => ({
  ...{ name, type, multiValued: false, required: false, caseExact: false },
  ...{ mutability: 'readWrite', returned: 'default', uniqueness: 'none' },
  ...more,
});

/** The attributes that are kept, by RFC 7643, 7. */
export const SCHEMAS = listed([
  {
    ...{ id: USER, name: 'User', description: 'Somebody with an account' },
    attributes: [
      attribute('userName', 'string', { required: true, uniqueness: 'server' }),
      attribute('externalId', 'string', { caseExact: true }),
      attribute('displayName', 'string'),
      attribute('name', 'complex', {
        subAttributes: ['formatted', 'givenName', 'familyName'].map((n) => attribute(n, 'string')),
      }),
      attribute('title', 'string'),
      attribute('active', 'boolean'),
      attribute('emails', 'complex', {
        multiValued: true,
        subAttributes: [attribute('value', 'string'), attribute('primary', 'boolean')],
      }),
      attribute('groups', 'complex', { multiValued: true, mutability: 'readOnly' }),
    ],
  },
  {
    ...{ id: GROUP, name: 'Group', description: 'People together' },
    attributes: [
      attribute('displayName', 'string', { required: true, uniqueness: 'server' }),
      attribute('externalId', 'string', { caseExact: true }),
      attribute('members', 'complex', { multiValued: true, subAttributes: [attribute('value', 'string')] }),
    ],
  },
]);
