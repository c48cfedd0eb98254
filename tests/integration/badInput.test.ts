import { together } from '../support/bytes';
import { flacFrame, flacHead } from '../support/flacStream';
import { encodeWave } from '@/core/formats/encodeWave';
import { readEntry } from '@/server/entry';
import { listLongTasks } from '@/store/longTasks';
import { knownOf, takeIn } from '@/server/takeIn';
import { directTask } from '@/server/tasks';
import { closeDatabase, database } from '@/store/database';
import { randomFrom } from '@/demo/random';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { inBlocks } from '../support/bytes';
import { encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { bring, bringAll, emptyLibrary, measureAll, setInBin } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const wav = drumFile({ bpm: 100, bars: 4 });

async function faultOf(name: string, bytes: Uint8Array): Promise<string | null> {
  const { sampleId } = await bring(name, bytes);
  await measureAll();
  const { summary } = await readEntry(sampleId);
  expect(summary.measuring).toBeNull();
  // Nothing is lost: the bytes are there as they came.
  expect(summary.byteLength).toBe(bytes.length);
  return summary.fault;
}

const patched = (bytes: Uint8Array, at: number, ...values: number[]) => {
  const copy = bytes.slice();
  copy.set(values, at);
  return copy;
};

test('an empty file', async () => {
  expect(await faultOf('empty.wav', new Uint8Array(0))).toMatch(/an empty file/);
});

test('a truncated file gives what is there, with a warning', async () => {
  const { sampleId } = await bring('torn.wav', wav.slice(0, wav.length / 2));
  await measureAll();
  const { summary, warnings } = await readEntry(sampleId);
  expect(summary).toMatchObject({ fault: null, standing: 'measured' });
  expect(summary.doubts).toContainEqual({ code: 'damaged', weight: 0.6 });
  expect(warnings.join()).toMatch(/The file says 9\.60 s, but only 4\.80 s are there/);
});

test('a wrong extension does not matter; text that is named as audio does', async () => {
  expect(await faultOf('really-flac.mp3', encoded(wav, 'flac'))).toBeNull();
  const text = new TextEncoder().encode('Dear Wilmot, the bellows have a leak again. '.repeat(30));
  expect(await faultOf('letter.wav', text)).toMatch(/looks like text/);
});

test('a header that lies about its length', async () => {
  // The data chunk claims four gigabytes.
  const { sampleId } = await bring('lie.wav', patched(wav, 40, 0xf0, 0xff, 0xff, 0xff));
  await measureAll();
  const { summary, warnings } = await readEntry(sampleId);
  expect(summary.fault).toBeNull();
  expect(summary.durationSeconds).toBeCloseTo(9.6, 2);
  expect(warnings.join()).toMatch(/The file says/);
});

test('ten hours claimed in a header of a few bytes', async () => {
  const frames = 44100 * 3600 * 10;
  const header = encodeWave([new Float32Array(0)], 44100, 16);
  new DataView(header.buffer).setUint32(40, (frames * 2) >>> 0, true);
  expect(await faultOf('opera.wav', header)).toMatch(/No audio could be decoded|no audio/i);
});

test('six hours of FLAC that does not say how long it is are refused by its last frames', async () => {
  const some = (from: number) => Array.from({ length: 20 }, (_, i) => flacFrame(from + i));
  expect(await faultOf('piped.flac', together(flacHead(), ...some(0), ...some(232_000)))).toMatch(
    /lasts 6\.0 hours/,
  );
  // A short one is read.
  const { sampleId } = await bring('short.flac', together(flacHead(), ...some(0)));
  await measureAll();
  expect((await readEntry(sampleId)).summary.durationSeconds).toBeCloseTo((20 * 4096) / 44_100, 3);
});

test('samples that are no numbers become silence and are told', async () => {
  const channel = new Float32Array(44100 * 5).map((_, i) => 0.4 * Math.sin(i / 15));
  channel[1000] = NaN;
  channel[2000] = Infinity;
  const { sampleId } = await bring('nan.wav', encodeWave([channel], 44100, '32f'));
  await measureAll();
  const { summary, warnings } = await readEntry(sampleId);
  expect(summary.fault).toBeNull();
  expect(warnings.join()).toMatch(/2 samples were not numbers/);
});

test.each([
  ['silence only', new Float32Array(44100 * 4)],
  ['DC only', new Float32Array(44100 * 4).fill(0.5)],
  ['five hundredths of a second', new Float32Array(2205).map((_, i) => Math.sin(i / 5))],
])('%s is kept without a tempo', async (name, channel) => {
  const { sampleId } = await bring(`${name}.wav`, encodeWave([channel], 44100, 16));
  await measureAll();
  const { summary, settled } = await readEntry(sampleId);
  expect(summary).toMatchObject({ fault: null, standing: 'measured', measuring: null });
  expect(settled.grid).toBeNull();
});

test('more than the limit is refused with the figure, before and while it arrives', async () => {
  const before = process.env.GRENTO_MAX_FILE_MB;
  process.env.GRENTO_MAX_FILE_MB = '1';
  try {
    const arrival = { name: 'huge.wav', folder: '', modifiedMs: null, from: 0 };
    const announced = takeIn({ ...arrival, byteLength: 1e9, bytes: inBlocks(wav) });
    await expect(announced).rejects.toThrow('“huge.wav” is larger than 1 MB');
    const [asked] = await knownOf([{ name: 'huge.wav', folder: '', byteLength: 1e9, modifiedMs: 0 }]);
    expect(asked.refusal).toContain('“huge.wav” is larger than 1 MB');
    const silentAboutIt = takeIn({ ...arrival, byteLength: null, bytes: inBlocks(wav) });
    await expect(silentAboutIt).rejects.toThrow('“huge.wav” is larger than 1 MB');
    expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(0);
  } finally {
    if (before === undefined) delete process.env.GRENTO_MAX_FILE_MB;
    else process.env.GRENTO_MAX_FILE_MB = before;
  }
});

test('two arrivals of one file at once make one sample', async () => {
  const arrive = () =>
    takeIn({
      name: 'twin.wav',
      folder: 'a',
      byteLength: wav.length,
      modifiedMs: 1000,
      from: 0,
      bytes: inBlocks(wav),
    });
  const results = await Promise.allSettled([arrive(), arrive()]);
  const outcomes = results
    .map((result) => (result.status === 'fulfilled' ? result.value.outcome : 'refused'))
    .sort();
  expect(outcomes).toEqual(['already here', 'new']);
  expect((await database().query('select count(*) as n from samples')).rows[0].n).toBe(1);
});

test('an arrival that breaks off goes on where it stopped', async () => {
  const random = randomFrom(9);
  const bytes = Uint8Array.from({ length: 1_700_000 }, () => random() * 256);
  const file = { name: 'long.wav', folder: 'b', byteLength: bytes.length, modifiedMs: 5 };
  const broken = async function* () {
    yield* inBlocks(bytes.subarray(0, 1_200_000));
    throw new Error('the line went dead');
  };
  await expect(takeIn({ ...file, from: 0, bytes: broken() })).rejects.toThrow('the line went dead');
  const [{ here, received }] = await knownOf([file]);
  expect([here, received]).toEqual([null, 1_048_576]);
  // A stream that ends too early is no file.
  const short = takeIn({ ...file, from: received, bytes: inBlocks(bytes.subarray(received, 1_600_000)) });
  await expect(short).rejects.toThrow('was interrupted; upload it again to resume');
  await expect(takeIn({ ...file, from: 77, bytes: inBlocks(bytes) })).rejects.toThrow('at the wrong place');
  const [again] = await knownOf([file]);
  const taken = await takeIn({
    ...file,
    from: again.received,
    bytes: inBlocks(bytes.subarray(again.received)),
  });
  expect(taken.outcome).toBe('new');
  expect(await knownOf([file])).toMatchObject([{ here: 'library', received: 0, refusal: null }]);
  // Who put it into the bin is told that it lies there.
  await setInBin(taken.sampleId!, true);
  expect((await knownOf([file]))[0].here).toBe('bin');
  await setInBin(taken.sampleId!, false);
  expect((await knownOf([file]))[0].here).toBe('library');
  expect((await readEntry(taken.sampleId!)).summary.byteLength).toBe(bytes.length);
});

test('a database that fails midway leaves nothing half, and the next try succeeds', async () => {
  // As a full disk does: the third part of a file cannot be written.
  await database().query(`
    create function fill_up() returns trigger language plpgsql as $$
      begin if new.chunk_index = 2 then raise exception 'could not extend file: No space left on device'; end if; return new; end $$;
    create trigger full_disk before insert on original_chunks for each row execute function fill_up()`);
  try {
    await expect(bring('big.wav', wav)).rejects.toThrow('No space left');
    expect((await database().query('select count(*) as n from samples')).rows[0].n).toBe(0);
    expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(0);
  } finally {
    await database().query('drop trigger full_disk on original_chunks; drop function fill_up()');
  }
  expect((await bring('big.wav', wav)).outcome).toBe('new');
});

describe('archives', () => {
  type Inside = [name: string, bytes: Uint8Array][];

  async function zipped(files: Inside): Promise<Uint8Array> {
    const zip = new yazl.ZipFile();
    for (const [name, bytes] of files) zip.addBuffer(Buffer.from(bytes), name);
    zip.end();
    const parts: Uint8Array[] = [];
    for await (const part of zip.outputStream as Readable) parts.push(part as Buffer);
    return Uint8Array.from(Buffer.concat(parts));
  }

  async function unpacked(bytes: Uint8Array) {
    const { outcome } = await takeIn({
      name: 'Trunk.zip',
      folder: 'From Wilmot',
      byteLength: bytes.length,
      modifiedMs: 3,
      from: 0,
      bytes: inBlocks(bytes),
    });
    expect(outcome).toBe('unpacking');
    await bringAll();
    const [task] = await listLongTasks();
    const { rows } = await database().query('select name, folder from samples order by folder, name');
    return { task, rows };
  }

  test('a ZIP becomes the samples that are in it, in their folders', async () => {
    const { task, rows } = await unpacked(
      await zipped([
        ['drums/a.wav', wav],
        ['drums/deep/b.wav', drumFile({ bpm: 90, bars: 2 })],
        ['notes.txt', new TextEncoder().encode('hello')],
        ['__MACOSX/drums/._a.wav', new Uint8Array(10)],
      ]),
    );
    expect(rows).toEqual([
      { name: 'a.wav', folder: 'From Wilmot/Trunk/drums' },
      { name: 'b.wav', folder: 'From Wilmot/Trunk/drums/deep' },
    ]);
    expect(task).toMatchObject({ state: 'done', done: 2, failed: 1 });
    expect(task.faults).toEqual([
      { name: 'notes.txt', fault: 'Its name is not that of an audio or MIDI file.' },
    ]);
    // The archive itself is not kept beside its files.
    expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(2);
  });

  /** The library does not write such names: they are put in afterwards, in both places where a name stands. */
  const renamed = (bytes: Uint8Array, names: Record<string, string>) => {
    let text = Buffer.from(bytes).toString('latin1');
    for (const [from, to] of Object.entries(names)) text = text.replaceAll(from, to);
    return Uint8Array.from(Buffer.from(text, 'latin1'));
  };

  test('paths that lead out are refused, the others come in, with strokes of either kind', async () => {
    const tone = (bpm: number) => drumFile({ bpm, bars: 1 });
    const bytes = await zipped([
      ['aa/aa/evil.wav', wav],
      ['b/root.wav', tone(101)],
      ['d/disk.wav', tone(102)],
      ['drums:kit:e.wav', tone(103)],
      ['good.wav', tone(104)],
    ]);
    const { task, rows } = await unpacked(
      renamed(bytes, {
        'aa/aa/evil.wav': '../../evil.wav',
        'b/root.wav': '//root.wav',
        'd/disk.wav': 'C:disk.wav',
        'drums:kit:e.wav': 'drums\\kit\\e.wav',
      }),
    );
    expect(rows).toEqual([
      { name: 'good.wav', folder: 'From Wilmot/Trunk' },
      { name: 'e.wav', folder: 'From Wilmot/Trunk/drums/kit' },
    ]);
    expect(task).toMatchObject({ state: 'done', done: 2, failed: 3 });
    for (const { fault } of task.faults) expect(fault).toMatch(/leads outside the archive/);
    // What was refused for its name is refused again: there is nothing to try.
    expect(task.canBeRetried).toBe(false);
    await expect(directTask(task.taskId, { do: 'retry' })).rejects.toThrow('ended or changed');
    expect((await listLongTasks())[0].state).toBe('done');
  });

  test('one damaged member costs itself: noise in it, or more in it than it says', async () => {
    const random = randomFrom(8);
    const noise = (bytes: Uint8Array, from: number) => {
      const torn = bytes.slice();
      for (let i = from; i < from + 40; i++) torn[i] = Math.floor(random() * 256);
      return torn;
    };
    const whole = await zipped([
      ['first.wav', wav],
      ['other.wav', drumFile({ bpm: 120, bars: 2 })],
    ]);
    // Behind the name in its head.
    const { task, rows } = await unpacked(noise(whole, 30 + 'first.wav'.length));
    expect(rows.map(({ name }) => name)).toEqual(['other.wav']);
    expect(task).toMatchObject({ state: 'done', done: 1, failed: 1 });
    expect(task.faults[0].fault).toMatch(/“first.wav” is damaged in the archive/);
    await emptyLibrary();
    // The length that the list gives to the first.
    const list = Buffer.from(whole).indexOf(Buffer.from('PK\x01\x02', 'latin1'));
    const liar = Buffer.from(whole);
    liar.writeUInt32LE(wav.length - 1000, list + 24);
    const told = await unpacked(Uint8Array.from(liar));
    expect(told.rows.map(({ name }) => name)).toEqual(['other.wav']);
    expect(told.task.faults[0].fault).toMatch(/“first.wav” is damaged in the archive: too many bytes/);
  });

  test('what of an archive is missing can be tried again; then its bytes are let go', async () => {
    const bytes = await zipped([['a.wav', wav]]);
    await database().query(
      `create function refuse() returns trigger language plpgsql as $$ begin raise 'torn'; end $$;
       create trigger refusing before insert on samples execute function refuse()`,
    );
    const { task } = await unpacked(bytes).finally(() => database().query('drop function refuse cascade'));
    expect(task).toMatchObject({ state: 'done', done: 0, failed: 1, canBeRetried: true });
    await directTask(task.taskId, { do: 'retry' });
    await bringAll();
    expect((await listLongTasks())[0]).toMatchObject({ state: 'done', done: 1, failed: 0 });
    expect(
      (await database().query('select name from originals join samples using (original_id)')).rows,
    ).toEqual([{ name: 'a.wav' }]);
    expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(1);
  }, 60_000);

  test('an archive of too many files is refused at once', async () => {
    const zip = await zipped(Array.from({ length: 20_001 }, (_, i) => [`${i}.wav`, new Uint8Array(1)]));
    let asked = 0;
    const pool = database();
    const { query } = pool;
    pool.query = ((...args: Parameters<typeof query>) => {
      asked++;
      return query.apply(pool, args);
    }) as unknown as typeof query;
    try {
      const { task } = await unpacked(zip);
      expect(task).toMatchObject({ state: 'failed', fault: expect.stringMatching(/more than 20000 files/) });
      // Its list is some two megabytes long.
      expect(asked).toBeLessThan(100);
    } finally {
      pool.query = query;
    }
  });

  test('what grows a thousandfold is not unpacked', async () => {
    const { task, rows } = await unpacked(await zipped([['bomb.wav', new Uint8Array(60_000_000)]]));
    expect(rows).toEqual([]);
    expect(task.faults[0].fault).toMatch(/grows more than 200 times/);
  });

  test('archives in archives are unpacked, to a depth, and what is one but not named so is refused', async () => {
    const tone = (bpm: number) => drumFile({ bpm, bars: 2 });
    let deep = await zipped([['at the bottom.wav', tone(91)]]);
    for (let depth = 0; depth < 4; depth++) deep = await zipped([['inner.zip', deep]]);
    const { rows } = await unpacked(
      await zipped([
        ['b/second.zip', await zipped([['c.wav', tone(93)]])],
        ['hidden.wav', await zipped([['d.wav', tone(97)]])],
        ['deep.zip', deep],
      ]),
    );
    expect(rows).toEqual([{ name: 'c.wav', folder: 'From Wilmot/Trunk/b/second' }]);
    const faults = (await listLongTasks()).flatMap((task) => task.faults.map(({ fault }) => fault));
    expect(faults).toEqual(
      expect.arrayContaining([
        '“hidden.wav” is an archive inside another one, but is not named as one.',
        'It is an archive inside of 3 others, which is too deep.',
      ]),
    );
    expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(1);
  });

  test('the limits of an archive are those of all archives in it together', async () => {
    const before = process.env.GRENTO_MAX_UNPACKED_MB;
    process.env.GRENTO_MAX_UNPACKED_MB = '4';
    try {
      const inner = (bpm: number) => zipped([['a.wav', drumFile({ bpm, bars: 4 })]]);
      // Each of them is small enough by itself.
      const { task } = await unpacked(
        await zipped([
          ['1.zip', await inner(100)],
          ['2.zip', await inner(101)],
        ]),
      );
      const tasks = await listLongTasks();
      expect(task).toBeDefined();
      expect(
        tasks.filter(({ fault }) => fault?.includes('would unpack to more than')).length,
      ).toBeGreaterThan(0);
    } finally {
      if (before === undefined) delete process.env.GRENTO_MAX_UNPACKED_MB;
      else process.env.GRENTO_MAX_UNPACKED_MB = before;
    }
  });

  test('a torn archive says so', async () => {
    const whole = await zipped([['a.wav', wav]]);
    const { task, rows } = await unpacked(whole.slice(0, whole.length - 40));
    expect(rows).toEqual([]);
    expect(task).toMatchObject({ state: 'failed', fault: expect.stringMatching(/archive cannot be read/) });
  });
});
