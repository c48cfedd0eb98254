import { createReadStream } from 'node:fs';
import { join } from 'node:path';
import { sortOf } from '@/contract/doubt';
import { doubtsAbout, SURE } from '@/library/samples/needsALook';
import { measureStream } from '@/core/measurement/measureStream';
import { judged, PROPERTIES, type Judged } from './accuracy/doubts';
import { readTruth } from './training/truth';

const HELP = `npm run doubts -- CORPUS

Measures the recordings of CORPUS (folders loops and songs, each with a truth.jsonl) and says of each property how many
wrong values are in doubt, how many right ones are, and how many of those that are not in doubt are right. Meant for
recordings that the weights have not met.`;

const [corpus] = process.argv.slice(2);
if (!corpus || corpus === '--help') {
  console.log(HELP);
  process.exit(corpus ? 0 : 2);
}
const rows: { is: Judged; sorts: ReadonlySet<string> }[] = [];
for (const folder of ['loops', 'songs'])
  for (const truth of readTruth(join(corpus, folder, 'truth.jsonl'))) {
    if (truth.kind === 'oneshot' || truth.kind === 'midi') continue;
    const { measurement } = await measureStream(() => createReadStream(truth.path));
    rows.push({
      is: judged(truth, measurement),
      sorts: new Set(doubtsAbout(measurement, []).map(sortOf)),
    });
  }
const percent = (part: number, of: number) => (of === 0 ? '–' : `${((100 * part) / of).toFixed(1)} %`);
console.log(`sure from ${JSON.stringify(SURE)}, ${rows.length} recordings\n`);
for (const { property, sorts } of PROPERTIES) {
  const known = rows.filter(({ is }) => is[property] !== null);
  const inDoubt = ({ sorts: found }: (typeof rows)[number]) => sorts.some((sort) => found.has(sort));
  const wrong = known.filter(({ is }) => is[property] === 'wrong');
  const right = known.filter(({ is }) => is[property] === 'right');
  const sure = known.filter((row) => !inDoubt(row));
  console.log(
    `${property.padEnd(6)} ${wrong.length} wrong of ${known.length}: ${percent(wrong.filter(inDoubt).length, wrong.length)} of them in doubt, ` +
      `${percent(right.filter(inDoubt).length, right.length)} of the right ones; of the sure ones ` +
      `${percent(sure.filter(({ is }) => is[property] === 'right').length, sure.length)} are right`,
  );
}
