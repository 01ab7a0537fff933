import { z } from 'zod';

const Id = z.int().positive().max(65_535);
const Ids = z.array(Id).max(100);
const Item = z.object({
  id: Id,
  name: z.string().min(1).max(300),
  description: z.string().max(3000),
  illustrations: z.array(z.string().max(2000)).max(10).default([]),
});
export type VendorListItem = z.infer<typeof Item>;

/** What a record is called by must be its own number. */
function byId<T extends z.ZodType<{ readonly id: number }>>(item: T, what: string) {
  return z.record(z.string().regex(/^\d+$/), item).superRefine((all, ctx) => {
    for (const [key, { id }] of Object.entries(all))
      if (String(id) !== key)
        ctx.addIssue({ code: 'custom', path: [key], message: `${what} ${key} has the number ${id}.` });
  });
}

export const Vendor = z.object({
  id: Id,
  name: z.string().min(1).max(300),
  purposes: Ids,
  legIntPurposes: Ids,
  flexiblePurposes: Ids,
  specialPurposes: Ids,
  features: Ids,
  specialFeatures: Ids,
  urls: z
    .array(
      z.object({
        langId: z.string().max(20),
        privacy: z.string().max(2000).optional(),
        legIntClaim: z.string().max(2000).optional(),
      }),
    )
    .max(40)
    .default([]),
  usesCookies: z.boolean().default(false),
  cookieMaxAgeSeconds: z.int().nullish(),
  cookieRefresh: z.boolean().optional(),
  usesNonCookieAccess: z.boolean().default(false),
  dataRetention: z
    .object({
      stdRetention: z.int().nullish(),
      purposes: z.record(z.string(), z.int()).default({}),
      specialPurposes: z.record(z.string(), z.int()).default({}),
    })
    .optional(),
  dataDeclaration: Ids.default([]),
  deletedDate: z.string().optional(),
});
export type Vendor = z.infer<typeof Vendor>;

/**
 * A list of vendors in the format of the Transparency and Consent Framework (Global Vendor List, version 3). Fields that
 * nothing here needs are let go.
 */
export const VendorList = z.object({
  gvlSpecificationVersion: z.literal(3, 'Give a vendor list of specification version 3'),
  vendorListVersion: z.int().min(1).max(4095),
  tcfPolicyVersion: z.int().min(4, 'Give a list of policy version 4 or later').max(63),
  lastUpdated: z.string().max(40),
  purposes: byId(Item, 'Purpose'),
  specialPurposes: byId(Item, 'Special purpose'),
  features: byId(Item, 'Feature'),
  specialFeatures: byId(Item, 'Special feature'),
  dataCategories: z.record(z.string(), Item).default({}),
  vendors: byId(Vendor, 'Vendor'),
});
export type VendorList = z.infer<typeof VendorList>;
