/** A recipe is refused with one of these. `path` says where, in JSON Pointer form (RFC 6901). */
export class RecipeError extends Error {
  constructor(
    readonly path: string,
    message: string,
  ) {
    super(`${path}: ${message}`);
    this.name = "RecipeError";
  }
}
