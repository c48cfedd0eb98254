/**
 * Which engine measures: raised whenever the same recording may be measured otherwise than before, by new rules or by new weights.
 * Samples keep the number of the newest one that listened to them. `weights`: the first digits of the SHA-256 of the weights that
 * it decides with; a test holds them together.
 */
export const ENGINE = { version: 3, weights: '8633febc' } as const;
