import { parseArgs } from 'node:util';
import { explainRhythm } from '@/core/measurement/measure';
import { libraryTempi } from '@/core/rhythm/libraryTempi';
import { hear } from './training/recordings';
import { groupOf, isFree, readTruth, type Truth } from './training/truth';

const HELP = `npm run libraries -- [--keep FOLDER] TRUTH.jsonl…

As if each style of these recordings were a library by itself whose other pieces are proved: how many tempi are right (within 4 %) with
the stored weights alone, and where the proved tempi of the others have a say. --keep stores what is heard in FOLDER.`;

/** Of fewer a style is no library. */
const FEWEST = 8;

const { values, positionals } = parseArgs({
  args: process.argv.slice(2),
  allowPositionals: true,
  options: { keep: { type: 'string' }, help: { type: 'boolean' } },
});
if (values.help || positionals.length === 0) {
  console.log(HELP);
  process.exit(values.help ? 0 : 2);
}

/** The style of a loop stands behind its parts: "drum:rock", "full:rock". */
const styleOf = ({ genre }: Truth) => genre?.split(':').at(-1) ?? null;
const isRight = ({ bpm, bpmAlt }: Truth, found: number | undefined) =>
  found !== undefined && [bpm!, ...(bpmAlt ?? [])].some((tempo) => Math.abs(found / tempo - 1) <= 0.04);

const libraries = new Map<string, (Truth & { path: string })[]>();
for (const truth of positionals.flatMap(readTruth)) {
  const style = styleOf(truth);
  if (!style || !truth.bpm || isFree(truth)) continue;
  libraries.set(style, [...(libraries.get(style) ?? []), truth]);
}
const sum = { recordings: 0, alone: 0, within: 0 };
for (const [style, recordings] of libraries) {
  if (recordings.length < FEWEST) continue;
  let [alone, within] = [0, 0];
  for (const truth of recordings) {
    const heard = await hear(truth.path, values.keep ?? null);
    const others = recordings.filter((one) => groupOf(one) !== groupOf(truth));
    const library = libraryTempi(others.map(({ bpm }) => bpm!));
    if (isRight(truth, explainRhythm(heard)[0]?.bpm)) alone++;
    if (isRight(truth, explainRhythm(heard, { library })[0]?.bpm)) within++;
  }
  sum.recordings += recordings.length;
  sum.alone += alone;
  sum.within += within;
  console.log(
    `${style.padEnd(12)} ${recordings.length} recordings: right alone ${alone}, in the library ${within}`,
  );
}
const percent = (right: number) => `${((100 * right) / Math.max(1, sum.recordings)).toFixed(1)} %`;
console.log(
  `all          ${sum.recordings} recordings: right alone ${percent(sum.alone)}, in the library ${percent(sum.within)}`,
);
