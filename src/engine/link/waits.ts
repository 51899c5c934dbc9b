/** Says to an engine, behind its script, that it is to wait until it is told to go on. */
export const WAITS = '--waits';
