/** Why something is not done to a sample, in a sentence for the curator. */
export class RefusedChange extends Error {
  override name = 'RefusedChange';
  constructor(
    message: string,
    /** `gone`: it is not there; `stale`: it has moved on; `foreign`: somebody else's step; `unfit`: it cannot be. */
    readonly reason: 'gone' | 'stale' | 'foreign' | 'unfit' = 'unfit',
  ) {
    super(message);
  }
}
