/** What is asked for is not there. */
export class NotThere extends Error {}
