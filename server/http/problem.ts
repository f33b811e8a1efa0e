/**
 * A request that is refused, in words for the person or program that made it.
 * Sent as JSON `{ "error": code, "message": … }` by the plain handlers.
 */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    /** more members of the JSON answer, such as `retryAfter` in seconds */
    readonly detail: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = "Problem";
  }
}
