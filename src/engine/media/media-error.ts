/** A sentence for the user: what happened, why, what to do. */
export class MediaError extends Error {}
