/** A recipe that cannot be followed; the message says why, in a sentence for the user. */
export class RecipeError extends Error {
  override name = 'RecipeError';
}
