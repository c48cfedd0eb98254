import { spawnSync } from 'node:child_process';
import { availableParallelism, cpus } from 'node:os';
import { parseArgs } from 'node:util';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { encodeWave } from '../src/core/formats/encodeWave';
import { createListener } from '../src/core/measurement/listening';
import { decide, type Stage } from '../src/core/measurement/measure';
import { measureStream } from '../src/core/measurement/measureStream';
import { pitchPeakBuilder } from '../src/core/harmony/pitchSpectrum';
import { attackEnvelopeBuilder } from '../src/core/signal/attack';
import { ANALYSIS_RATE, onsetFeatureBuilder } from '../src/core/rhythm/onsetFeatures';
import { realFft } from '../src/core/signal/fft';
import { clickSound } from '../src/core/playing/clickSound';
import { drumSamples } from '../src/core/playing/drumPattern';
import { Mixer } from '../src/core/playing/mixer';
import { PlainReader } from '../src/core/playing/voice';
import { createHalfBand } from '../src/core/signal/halfBand';
import { mixToMono } from '../src/core/signal/pcm';
import { createResampler, resample } from '../src/core/signal/resample';
import { mothAndLantern } from '../src/demo/pieces';
import { benchBlend } from './bench/blend';
import { plainFft } from './bench/plainFft';

const HELP = `npm run bench -- [--minutes N] [--long N]

How many times faster than real time measuring and its stages are on N minutes (default 10) of stereo 44.1 kHz
audio made from the demo song, on one core; what memory N minutes (default 60) take; and what two threads gain.
Factors are of one run on this machine: compare them with each other, not with another day's.`;

const BLOCK_FRAMES = 16_384;
const WAVE_HEADER_BYTES = 44;

// Made beforehand: making it takes longer than measuring it.
const song = mothAndLantern();
const songBytes = encodeWave([song.stage.left, song.stage.right], song.stage.sampleRate);

/** A WAV of the demo song over and over, byte by byte as a file would be read: it is never in memory as a whole. */
async function* songFile(minutes: number): AsyncGenerator<Uint8Array> {
  const { stage } = song;
  const once = songBytes;
  const body = once.subarray(WAVE_HEADER_BYTES);
  let left = minutes * 60 * stage.sampleRate * 4;
  const header = once.slice(0, WAVE_HEADER_BYTES);
  const view = new DataView(header.buffer);
  view.setUint32(4, 36 + left, true);
  view.setUint32(40, left, true);
  yield header;
  while (left > 0) {
    for (let at = 0; at < body.length && left > 0; at += BLOCK_FRAMES * 4) {
      const part = body.subarray(at, Math.min(body.length, at + Math.min(left, BLOCK_FRAMES * 4)));
      left -= part.length;
      yield part;
    }
  }
}

if (!isMainThread) {
  parentPort!.once('message', async (task: { minutes: number }) => {
    await measureStream(() => songFile(0.2));
    const began = performance.now();
    await measureStream(() => songFile(task.minutes));
    const ms = performance.now() - began;
    parentPort!.postMessage({ ms, memory: process.resourceUsage().maxRSS * 1024 });
  });
} else {
  const { values } = parseArgs({
    options: {
      minutes: { type: 'string', default: '10' },
      long: { type: 'string', default: '60' },
      alone: { type: 'string' },
      help: { type: 'boolean' },
    },
  });
  if (values.help) {
    console.log(HELP);
    process.exit(0);
  }
  if (values.alone) {
    const began = performance.now();
    await measureStream(() => songFile(Number(values.alone)));
    const ms = performance.now() - began;
    console.log(JSON.stringify({ ms, memory: process.resourceUsage().maxRSS * 1024 }));
    process.exit(0);
  }
  const minutes = Number(values.minutes);
  const seconds = minutes * 60;
  console.log(
    `${cpus()[0]?.model ?? 'unknown processor'}, ${availableParallelism()} cores, Node ${process.versions.node}`,
  );
  console.log(`${minutes} min of stereo 44.1 kHz, 16-bit WAV\n`);
  const line = (name: string, ms: number, of = seconds) =>
    console.log(
      `${name.padEnd(46)}${(of / (ms / 1000)).toFixed(0).padStart(7)} × real time${(ms / 1000).toFixed(2).padStart(9)} s`,
    );

  await measureStream(() => songFile(0.5));
  const { millisecondsSpent } = await measureStream(() => songFile(minutes));
  line('decoding, resampling, waveform peaks', millisecondsSpent.decode);
  line('measuring', millisecondsSpent.measure);

  // The stages of measuring, each alone on the same mix.
  const { stage } = song;
  const once = resample(mixToMono([stage.left, stage.right]), stage.sampleRate, ANALYSIS_RATE);
  const blocks: Float32Array[] = [];
  for (let left = seconds * ANALYSIS_RATE; left > 0; left -= once.length)
    for (let at = 0; at < Math.min(left, once.length); at += 8192)
      blocks.push(once.subarray(at, Math.min(once.length, at + 8192)));
  const timed = (name: string, run: () => void) => {
    const began = performance.now();
    run();
    line(`  ${name}`, performance.now() - began);
  };
  timed('onset evidence', () => {
    const builder = onsetFeatureBuilder();
    for (const block of blocks) builder.push(block);
    builder.finish();
  });
  timed('attack envelope', () => {
    const builder = attackEnvelopeBuilder(ANALYSIS_RATE, 6);
    for (const block of blocks) builder.push(block);
    builder.finish();
  });
  timed('halving and lasting pitch peaks', () => {
    const halving = createHalfBand();
    const builder = pitchPeakBuilder();
    for (const block of blocks) builder.push(halving.push(block));
    builder.finish();
  });
  const listener = createListener();
  for (const block of blocks) listener.push(block);
  const before = performance.now();
  const heard = listener.finish();
  line('  onsets, tuning, chroma (and ends of the above)', performance.now() - before);
  const begun: Partial<Record<Stage | 'end', number>> = {};
  decide(heard, {}, (name) => (begun[name] = performance.now()));
  begun.end = performance.now();
  line('  rhythm hypotheses', begun.decision! - begun.rhythm!);
  line('  key, kind, decision', begun.end - begun.decision!);

  // The transform: WebAssembly against the same in JavaScript.
  const perSecond = (run: () => void) => {
    let count = 0;
    for (let warm = 0; warm < 2000; warm++) run();
    const began = performance.now();
    while (performance.now() - began < 400) for (let i = 0; i < 100; i++, count++) run();
    return count / 0.4;
  };
  for (const size of [1024, 4096]) {
    const simd = realFft(size);
    const plain = plainFft(size);
    const [re, im] = [new Float64Array(size / 2 + 1), new Float64Array(size / 2 + 1)];
    const input = new Float32Array(size).fill(0.5);
    const fast = perSecond(() => simd.forward());
    const slow = perSecond(() => plain.forward(input, re, im));
    console.log(
      `FFT of ${size} points: ${(fast / 1000).toFixed(0)} thousand a second in WebAssembly, ${(slow / 1000).toFixed(0)} in JavaScript: ${(fast / slow).toFixed(1)} times`,
    );
  }
  const minute = new Float32Array(44100 * 60).fill(0.1);
  const resampler = createResampler(44100, ANALYSIS_RATE);
  const from = performance.now();
  for (let at = 0; at < minute.length; at += 8192) resampler.push(minute.subarray(at, at + 8192));
  line('resampling 44.1 → 22.05 kHz, mono', performance.now() - from, 60);

  // What is exported of a blend.
  const threeMinutes = [song.stage.left, song.stage.right].map((channel) => {
    const whole = new Float32Array(Math.ceil(3.2 * 60 * song.stage.sampleRate));
    for (let at = 0; at < whole.length; at += channel.length)
      whole.set(channel.subarray(0, Math.min(channel.length, whole.length - at)), at);
    return whole;
  });
  benchBlend(threeMinutes);

  // What the audio thread does, in its blocks.
  const voices = 8;
  for (const speed of [1, 0.5]) {
    const mixer = new Mixer(44100);
    for (let v = 0; v < voices; v++) {
      const channels = [minute.slice(), minute.slice()];
      mixer.put(String(v), new PlainReader(channels, 0, minute.length), 0, {
        level: 0.5,
        pan: 0.2,
        muted: false,
      });
    }
    mixer.setGrid({ tempoBpm: 113.873, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null });
    mixer.setClickSamples({
      plain: clickSound('wood', false, 44100),
      accented: clickSound('wood', true, 44100),
      drums: drumSamples(44100),
    });
    mixer.setMix({
      on: true,
      level: 1,
      accent: true,
      balance: 0,
      split: false,
      pace: 1,
      subdivision: 2,
      drums: false,
      swing: 0.5,
    });
    mixer.setSpeed(speed);
    mixer.start(0);
    const [left, right] = [new Float32Array(128), new Float32Array(128)];
    const began = performance.now();
    for (let at = 0; at < minute.length; at += 128) mixer.render(left, right);
    const share = (performance.now() - began) / 600;
    console.log(
      `${voices} voices and a click at ${speed === 1 ? 'full' : 'half'} speed: ${share.toFixed(2)} % of a core`,
    );
  }

  // Two threads on the same work as one.
  const inThread = (of: number) =>
    new Promise<{ ms: number; memory: number }>((resolve, reject) => {
      const worker = new Worker(new URL(import.meta.url));
      worker.once('error', reject);
      worker.once('message', (answer: { ms: number; memory: number }) => {
        void worker.terminate();
        resolve(answer);
      });
      worker.postMessage({ minutes: of });
    });
  const { ms: one } = await inThread(3);
  const both = await Promise.all([inThread(3), inThread(3)]);
  const two = Math.max(...both.map(({ ms }) => ms));
  console.log(`two threads against one: ${((2 * one) / two).toFixed(2)} times the work in the same time`);

  const long = Number(values.long);
  // In a process of its own, so that the memory is that of one long file.
  const child = spawnSync(process.execPath, [process.argv[1], '--alone', String(long)], { encoding: 'utf8' });
  const { ms, memory } = JSON.parse(child.stdout) as { ms: number; memory: number };
  line(`${long} min, decoded and measured`, ms, long * 60);
  console.log(`largest memory of a process that measures it: ${(memory / 1e6).toFixed(0)} MB`);
}
