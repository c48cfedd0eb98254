import { interfaceTexts } from './lib/interfaceTexts';

const HELP = `npm run texts [-- SCREEN…]    every text of the interface, by screen, with its place in the source
  SCREEN   a folder below src/ui, or words, server, library, contract: only these`;

const wanted = process.argv.slice(2);
if (wanted[0] === '--help') {
  console.log(HELP);
  process.exit(0);
}

const texts = interfaceTexts().filter(({ screen }) => wanted.length === 0 || wanted.includes(screen));
const screens = [...new Set(texts.map(({ screen }) => screen))].sort();
for (const screen of screens) {
  console.log(screen);
  for (const { path, line, text } of texts.filter((text) => text.screen === screen))
    console.log(`  ${path}:${line}  ${text}`);
  console.log();
}
console.log(`${texts.length} texts`);
