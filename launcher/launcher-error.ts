/** Something the person who started us can mend; told without a stack. */
export class LauncherError extends Error {}
