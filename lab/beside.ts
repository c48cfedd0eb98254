import { readFileSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { format } from 'prettier';
import type { StoredWeights } from '@/core/weights/weights';
import { weightsBeside } from './training/beside';

const HELP = `npm run weights:beside -- ONE.json OTHER.json --to FILE [--share S]

Puts two fits of npm run weights beside each other: every decision is scored by the mean of both, of which ONE counts S (default 0.5).
FILE says how both were made.`;

const { values, positionals } = parseArgs({
  args: process.argv.slice(2),
  allowPositionals: true,
  options: { to: { type: 'string' }, share: { type: 'string', default: '0.5' }, help: { type: 'boolean' } },
});
const share = Number(values.share);
if (values.help || !(share > 0 && share < 1) || positionals.length !== 2 || !values.to) {
  console.log(HELP);
  process.exit(values.help ? 0 : 2);
}
const [one, other] = positionals.map((file) => JSON.parse(readFileSync(file, 'utf8')) as StoredWeights);
writeFileSync(
  values.to,
  await format(JSON.stringify(weightsBeside(one, other, share)), { parser: 'json', printWidth: 110 }),
);
