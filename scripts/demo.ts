import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO_LIBRARY } from '../src/demo/library';
import { workshopFiles } from '../src/demo/workshop';

const HELP = `npm run demo -- OPTIONS

Makes the demo library of the Pellworth Puppet Theatre.

  --into ADDRESS   take it in at a running Grento, through the same door as a user's files
  --when-empty     … only when the library there has nothing in it
  --files FOLDER   write it as files
  --workshop N     N loops of the theatre's workshop instead of the library`;

const args = process.argv.slice(2);
const value = (name: string) => (args.includes(name) ? args[args.indexOf(name) + 1] : undefined);
const address = value('--into');
const folder = value('--files');
const workshop = Number(value('--workshop') ?? 0);
if (!address && !folder) {
  console.log(HELP);
  process.exit(args.includes('--help') ? 0 : 2);
}

if (address && args.includes('--when-empty')) {
  const { all } = (await (await fetch(`${address}/api/samples/counts`)).json()) as { all: number };
  if (all > 0) process.exit(0);
}
if (address) process.stdout.write('Making the demo library ');
for (const file of workshop > 0 ? workshopFiles(workshop) : DEMO_LIBRARY) {
  const { bytes } = file.make();
  if (folder) {
    mkdirSync(join(folder, file.folder), { recursive: true });
    writeFileSync(join(folder, file.folder, file.name), bytes);
  }
  if (address) {
    const query = new URLSearchParams({ name: file.name, folder: file.folder });
    const response = await fetch(`${address}/api/intake?${query}`, {
      method: 'PUT',
      body: bytes as BodyInit,
      headers: { origin: address },
    });
    if (!response.ok) throw new Error(`${file.name}: ${await response.text()}`);
    process.stdout.write('.');
  }
}
if (address) process.stdout.write('\n');
