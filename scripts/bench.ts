import { availableParallelism, cpus } from 'node:os';
import { Worker, isMainThread, parentPort } from 'node:worker_threads';
import { measureStream } from '../src/core/measurement/measureStream';
import { STAGES, type Stage } from '../src/core/measurement/measure';
import { encodeWave } from '../src/core/formats/encodeWave';
import { realFft } from '../src/core/signal/fft';
import { resample } from '../src/core/signal/resample';
import { mothAndLantern } from '../src/demo/pieces';

/**
 * How many times faster than real time each stage is, and how much memory measuring takes. Factors are of
 * one run on this machine; compare them with each other, not with another day's.
 */
const HELP = `npm run bench -- [--minutes N]

Measures N minutes (default 10) of stereo 44.1 kHz audio made from the demo song.`;

async function* stream(bytes: Uint8Array) {
  for (let at = 0; at < bytes.length; at += 524_288) yield bytes.subarray(at, at + 524_288);
}

function song(minutes: number): Uint8Array {
  const { stage } = mothAndLantern();
  const frames = minutes * 60 * stage.sampleRate;
  const channels = [stage.left, stage.right].map((channel) => {
    const long = new Float32Array(frames);
    for (let at = 0; at < frames; at += channel.length)
      long.set(channel.subarray(0, Math.min(channel.length, frames - at)), at);
    return long;
  });
  return encodeWave(channels, stage.sampleRate);
}

async function measureOnce(bytes: Uint8Array, seconds: number) {
  const began: Partial<Record<Stage | 'decode' | 'end', number>> = {};
  await measureStream(stream(bytes), {}, (stage) => (began[stage] = performance.now()));
  began.end = performance.now();
  const order = ['decode', ...Object.keys(STAGES), 'end'] as (Stage | 'decode' | 'end')[];
  return order.slice(0, -1).map((stage, i) => ({
    stage,
    factor: seconds / ((began[order[i + 1]]! - began[stage]!) / 1000),
    ms: began[order[i + 1]]! - began[stage]!,
  }));
}

if (!isMainThread) {
  parentPort!.once('message', async ({ bytes, seconds }: { bytes: Uint8Array; seconds: number }) => {
    await measureOnce(bytes, seconds);
    parentPort!.postMessage('done');
  });
} else {
  const args = process.argv.slice(2);
  if (args.includes('--help')) {
    console.log(HELP);
    process.exit(0);
  }
  const minutes = args.includes('--minutes') ? Number(args[args.indexOf('--minutes') + 1]) : 10;
  const seconds = minutes * 60;
  const bytes = song(minutes);
  console.log(
    `${cpus()[0]?.model ?? 'unknown processor'}, ${availableParallelism()} cores, Node ${process.versions.node}`,
  );
  console.log(`${minutes} min stereo 44.1 kHz, 16-bit WAV of ${(bytes.length / 1e6).toFixed(0)} MB\n`);

  await measureOnce(song(0.5), 30);
  (globalThis as { gc?: () => void }).gc?.();
  const before = process.memoryUsage().rss;
  let peak = before;
  const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 20);
  const stages = await measureOnce(bytes, seconds);
  clearInterval(watch);
  peak = Math.max(peak, process.resourceUsage().maxRSS * 1024);
  const total = stages.reduce((sum, { ms }) => sum + ms, 0);
  const measuring = stages.filter(({ stage }) => stage !== 'decode').reduce((sum, { ms }) => sum + ms, 0);
  const line = (name: string, ms: number) =>
    console.log(
      `${name.padEnd(34)}${(seconds / (ms / 1000)).toFixed(0).padStart(8)} × real time${(ms / 1000).toFixed(2).padStart(10)} s`,
    );
  for (const { stage, ms } of stages)
    line(stage === 'decode' ? 'decode, resample, waveform peaks' : stage, ms);
  line('measuring without decoding', measuring);
  line('all', total);
  console.log(
    `\npeak memory of the process          ${(peak / 1e6).toFixed(0)} MB, of which the WAV itself ${(bytes.length / 1e6).toFixed(0)} MB (the application streams it)`,
  );
  console.log(`resident before measuring           ${(before / 1e6).toFixed(0)} MB`);

  // Parts on their own.
  const fft = realFft(1024);
  const input = new Float64Array(1024).fill(0.5);
  const re = new Float64Array(513);
  const im = new Float64Array(513);
  let count = 0;
  for (const end = performance.now() + 300; performance.now() < end; count++) fft.forward(input, re, im);
  console.log(`\nFFT of 1024 points                  ${(count / 0.3 / 1000).toFixed(0)} thousand a second`);
  const minute = new Float32Array(44100 * 60).fill(0.1);
  const began = performance.now();
  resample(minute, 44100, 22050);
  console.log(
    `resampling 44.1 → 22.05 kHz, mono   ${(60 / ((performance.now() - began) / 1000)).toFixed(0)} × real time`,
  );

  // Two threads on the same work as one.
  const part = song(2);
  const inThread = () =>
    new Promise<void>((resolve) => {
      const worker = new Worker(new URL(import.meta.url));
      worker.once('message', () => {
        void worker.terminate();
        resolve();
      });
      worker.postMessage({ bytes: part, seconds: 120 });
    });
  const alone = performance.now();
  await inThread();
  const one = performance.now() - alone;
  const together = performance.now();
  await Promise.all([inThread(), inThread()]);
  const two = performance.now() - together;
  console.log(
    `two threads against one             ${((2 * one) / two).toFixed(2)} times the work in the same time`,
  );
}
