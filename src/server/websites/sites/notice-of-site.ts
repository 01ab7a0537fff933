/** Joins the notice `n` of a site, whose table has this alias. */
export const NOTICE_OF_SITE = (site: string) =>
  `rule n ON n.kind = 'notice' AND n.id = CAST(${site}.id AS CHAR CHARACTER SET ascii)`;
