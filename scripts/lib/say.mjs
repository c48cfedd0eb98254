// @ts-check
/** @param {string} text */
export const say = (text) => process.stdout.write(`${text}\n`);

/**
 * Ends the command with one clear sentence.
 * @param {string} sentence
 * @returns {never}
 */
export function giveUp(sentence) {
  process.stderr.write(`\n${sentence}\n`);
  process.exit(1);
}
