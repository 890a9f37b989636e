/** What goes wrong again however often it is tried: the work is given up at once. */
export class LastingError extends Error {}
