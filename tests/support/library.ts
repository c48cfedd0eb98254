import { claimJob, holdRunner } from '@/store/jobs';
import { database, databaseUrl } from '@/store/database';
import { measureSample } from '@/server/measureSample';
import { takeIn } from '@/server/takeIn';
import pg from 'pg';
import { inBlocks } from './bytes';
import { drumFile } from './files';

/** Empties every table. */
export async function emptyLibrary(): Promise<void> {
  await database().query(
    'truncate originals, samples, revisions, readings, proofs, jobs, sample_tags, settings, stem_sets, bulk_steps, places, errands restart identity cascade',
  );
}

/** Takes bytes in under a name, through the same door as an upload. */
export async function bring(name: string, bytes: Uint8Array, folder = '') {
  const taken = await takeIn({
    name,
    folder,
    byteLength: bytes.length,
    modifiedMs: null,
    from: 0,
    bytes: inBlocks(bytes),
  });
  if (taken.sampleId === null) throw new Error(`“${name}” is an archive`);
  return { ...taken, sampleId: taken.sampleId };
}

/** Measures everything that waits, in this process. */
export async function measureAll(): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl() });
  await client.connect();
  try {
    const runner = await holdRunner(client);
    for (let job = await claimJob(runner); job; job = await claimJob(runner))
      await measureSample(job, runner, () => {});
  } finally {
    await client.end();
  }
}

/** A measured drum loop: 100 BPM, four bars, the one at 0.2 s. */
export async function measuredLoop(name = 'loop.wav', seed = 5): Promise<string> {
  const { sampleId } = await bring(name, drumFile({ bpm: 100, bars: 4, one: 0.2, seed }));
  await measureAll();
  return sampleId;
}
