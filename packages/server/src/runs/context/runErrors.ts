/** A person asked the run to stop. */
export class RunStopped extends Error {}
/** The server is going down; the run stays as it is in the store. */
export class ServerClosing extends Error {}
/** The run cannot go on, with the sentence that says what to do. */
export class RunFailed extends Error {}
