import { z } from 'zod';

/** What somebody types to take in a site. */
export const NewSite = z.object({
  address: z.string().trim().min(1, 'Type the site’s address').max(2000, 'At most 2000 characters'),
  /** What it is for; '' takes the page’s own title. */
  name: z.string().trim().max(120, 'At most 120 characters'),
});
