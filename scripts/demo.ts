import { type BlendOrder, keptBlend } from '../src/contract/blend';
import { mkdirSync, writeFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { join } from 'node:path';
import { comesIn } from '../src/library/blend/incoming';
import { laneFactsOf } from '../src/library/blend/parts';
import { curator, CURATOR_HEADER } from '../src/contract/curators';
import { sampleEntry } from '../src/contract/entry';
import type { Recipe } from '../src/core/recipes/recipe';
import type { SampleRequest } from '../src/contract/orders';
import { renderAnswer } from '../src/contract/renders';
import { DEMO_BLEND } from '../src/demo/blend';
import { DEMO_PACK } from '../src/demo/pack';
import { keptPack, type PackOrder } from '../src/contract/pack';
import { samplePage } from '../src/contract/shelfQuery';
import { DEMO_LIBRARY } from '../src/demo/library';
import { DERIVED } from '../src/demo/derived';
import { PROPERTY_ROOM } from '../src/demo/propertyRoom';
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

async function asked(path: string, init?: RequestInit): Promise<unknown> {
  const response = await fetch(`${address}/api/${path}`, {
    ...init,
    headers: {
      origin: address!,
      // Where a passphrase is asked for, the starter has a word of its own.
      ...(process.env.GRENTO_INSIDE ? { authorization: `Bearer ${process.env.GRENTO_INSIDE}` } : {}),
      ...init?.headers,
    },
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return response.json();
}
const posted = (path: string, body: unknown, hand: Record<string, string> = {}) =>
  asked(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json', ...hand },
  });

async function takeIn(file: { name: string; folder: string }, bytes: Uint8Array): Promise<string> {
  const query = new URLSearchParams({ name: file.name, folder: file.folder });
  const taken = await asked(`intake?${query}`, { method: 'PUT', body: bytes as BodyInit });
  process.stdout.write('.');
  return (taken as { sampleId: string }).sampleId;
}

/** Who keeps the property room. */
const KEEPER = 'Ada Wilmot';

/** Settles, saves and proves what the property room holds, as a curator did before. */
async function settleProperties(ids: readonly string[]) {
  process.stdout.write(' measuring ');
  const { curatorId } = curator.parse(await posted('curators', { name: KEEPER }));
  const hand = { [CURATOR_HEADER]: curatorId };
  for (const [i, sampleId] of ids.entries()) {
    while (!sampleEntry.parse(await asked(`samples/${sampleId}`)).measurement) await pause(200);
    const patch = PROPERTY_ROOM[i].settled;
    const change = (order: SampleRequest['order']) =>
      posted(`samples/${sampleId}/changes`, { base: null, order }, hand);
    await change({ do: 'settle', words: 'from the property book', patch });
    await change({ do: 'save' });
    process.stdout.write('.');
  }
  await posted('proofs', { sampleIds: ids }, hand);
}

/** What was made of what the property room holds: bars of one, one at another tempo and key, an evened-out performance. */
async function makeDerived(ids: ReadonlyMap<string, string>) {
  const hand = { [CURATOR_HEADER]: curator.parse(await posted('curators', { name: KEEPER })).curatorId };
  const recipes: Recipe[] = [];
  for (const { of, recipe } of DERIVED) {
    const sampleId = ids.get(of);
    if (!sampleId) continue;
    let entry = sampleEntry.parse(await asked(`samples/${sampleId}`));
    while (!entry.measurement) {
      await pause(200);
      entry = sampleEntry.parse(await asked(`samples/${sampleId}`));
    }
    recipes.push(recipe(entry));
  }
  const { taskId } = renderAnswer.parse(await posted('renders', { recipes, isSaved: true }, hand));
  // Its line is taken away when it has ended: until then that is refused.
  for (let ended = false; !ended; await pause(300))
    ended = await posted(`tasks/${taskId}`, { do: 'forget' }).then(
      () => true,
      () => false,
    );
}

/** A blend of what the property room holds: a lead, lanes that are fitted to it, a clash, and its repair one step ahead. */
async function makeBlend(ids: ReadonlyMap<string, string>) {
  const hand = { [CURATOR_HEADER]: curator.parse(await posted('curators', { name: KEEPER })).curatorId };
  const { name, lanes, mended } = DEMO_BLEND;
  let kept = keptBlend.parse(await posted('blends', { name }, hand));
  const change = async (words: string, order: BlendOrder) => {
    kept = keptBlend.parse(await posted(`blends/${kept.id}`, { do: 'order', words, order }, hand));
  };
  const laneOf = (of: string) => `${lanes.findIndex((lane) => lane.of === of) + 1}-demo`;
  for (const { of, patch } of lanes) {
    const entry = sampleEntry.parse(await asked(`samples/${ids.get(of)!}`));
    const incoming = { sampleId: entry.summary.sampleId, name: of, facts: laneFactsOf(entry)! };
    const order = comesIn(kept.state, incoming, laneOf(of));
    await change(`“${of}” put in`, { ...order, lane: { ...order.lane, ...patch } });
  }
  await change(mended.words, { do: 'lanes', patches: [{ laneId: laneOf(mended.of), patch: mended.patch }] });
  await posted(`blends/${kept.id}`, { do: 'undo' }, hand);
}

/** A pack of what the second act needs, ready to be written; what was made stands on the Shelf and is found by its name. */
async function makePack() {
  const hand = { [CURATOR_HEADER]: curator.parse(await posted('curators', { name: KEEPER })).curatorId };
  const { name, of, set } = DEMO_PACK;
  const { id } = keptPack.parse(await posted('packs', { name }, hand));
  const { rows } = samplePage.parse(await asked('shelf?limit=200&sort=name&direction=up'));
  const ids = new Map(rows.map((row) => [row.name, row.sampleId]));
  const sampleIds = of.flatMap((one) => ids.get(one) ?? []);
  const change = (words: string, order: PackOrder) =>
    posted(`packs/${id}`, { do: 'order', words, order }, hand);
  await change(`${sampleIds.length} samples put in`, { do: 'put', sampleIds });
  await change('how it is written', { do: 'set', patch: set });
}

async function main() {
  if (!address && !folder) {
    console.log(HELP);
    process.exit(args.includes('--help') ? 0 : 2);
  }
  if (address && args.includes('--when-empty')) {
    const { all } = (await asked('samples/counts')) as { all: number };
    if (all > 0) return;
  }
  if (address) process.stdout.write('Making the demo library ');
  const properties = workshop > 0 ? [] : PROPERTY_ROOM;
  const files = (workshop > 0 ? workshopFiles(workshop) : DEMO_LIBRARY).map(({ make, ...file }) => ({
    ...file,
    make: () => make().bytes,
  }));
  if (folder)
    for (const { name, folder: within, make } of files) {
      mkdirSync(join(folder, within), { recursive: true });
      writeFileSync(join(folder, within, name), make());
    }
  if (!address) return;
  const ids = new Map<string, string>();
  for (const { make, ...file } of properties) ids.set(file.name, await takeIn(file, make()));
  const rooms = [...ids.values()];
  for (const { make, ...file } of files) ids.set(file.name, await takeIn(file, make()));
  await settleProperties(rooms);
  if (workshop === 0) {
    await makeDerived(ids);
    await makeBlend(ids);
    await makePack();
  }
  process.stdout.write('\n');
}

await main();
