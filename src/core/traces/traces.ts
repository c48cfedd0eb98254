import type { Chroma } from '../harmony/chroma';
import type { ChromaFrames } from '../rhythm/patterns';
import { coarser, peakLevels, type PeakPyramid } from '../signal/peaks';
import type { BandStrength } from './bandStrength';

/**
 * What the Bench draws before (and without) the audio: waveform extremes, onset strength in three bands and
 * chroma over time, all in bytes: about a kilobyte per second of audio.
 */
export interface Traces {
  durationSeconds: number;
  peaks: PeakPyramid;
  strength: BandStrength;
  /** Chroma at the sample's tuning, C first: rows of 12, the loudest value 255. */
  chords: ChromaRows;
  bass: ChromaRows;
}

export interface ChromaRows {
  rate: number;
  rows: Uint8Array;
}

const NOTES = 12;
/** Chroma rows a second: chords change more slowly. */
const CHROMA_RATE = 3;
/** Peaks are kept in bins of this many finest bins. */
const PEAK_BINS = 2;

/** Chroma averaged to about three rows a second, scaled so that its loudest value is 255. */
function chromaRows({ frameRate, frames, values }: ChromaFrames): ChromaRows {
  const per = Math.max(1, Math.round(frameRate / CHROMA_RATE));
  const count = Math.ceil(frames / per);
  const sums = new Float32Array(count * NOTES);
  for (let f = 0; f < frames; f++)
    for (let p = 0; p < NOTES; p++) sums[Math.floor(f / per) * NOTES + p] += values[f * NOTES + p];
  const loudest = sums.reduce((a, b) => Math.max(a, b), 0) || 1;
  return { rate: frameRate / per, rows: Uint8Array.from(sums, (value) => (255 * value) / loudest) };
}

export function tracesOf(
  durationSeconds: number,
  peaks: PeakPyramid,
  strength: BandStrength,
  chroma: Chroma,
): Traces {
  return { durationSeconds, peaks, strength, chords: chromaRows(chroma.all), bass: chromaRows(chroma.bass) };
}

/**
 * Bytes of traces: a header of little-endian 64-bit floats (how many bytes each part has, and the rates),
 * then the parts. Waveform extremes become signed bytes on the scale of the loudest.
 */
export function packTraces({ durationSeconds, peaks, strength, chords, bass }: Traces): Uint8Array {
  const { binFrames, min, max } = coarser(peaks.levels[0], PEAK_BINS);
  let loudest = 1e-6;
  for (let i = 0; i < min.length; i++) loudest = Math.max(loudest, -min[i], max[i]);
  const extremes = new Int8Array(2 * min.length);
  for (let i = 0; i < min.length; i++) {
    extremes[2 * i] = Math.round((127 * min[i]) / loudest);
    extremes[2 * i + 1] = Math.round((127 * max[i]) / loudest);
  }
  const parts = [new Uint8Array(extremes.buffer), ...strength.bands, chords.rows, bass.rows];
  const header = Float64Array.from([
    durationSeconds,
    peaks.sampleRate,
    peaks.frames,
    binFrames,
    loudest,
    strength.rate,
    chords.rate,
    ...parts.map(({ length }) => length),
  ]);
  const bytes = new Uint8Array(header.byteLength + parts.reduce((sum, { length }) => sum + length, 0));
  bytes.set(new Uint8Array(header.buffer));
  let at = header.byteLength;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

const FIGURES = 7;
const PARTS = 6;

/** The inverse of `packTraces`. Throws RangeError for bytes that are none. */
export function unpackTraces(bytes: Uint8Array): Traces {
  const headerBytes = 8 * (FIGURES + PARTS);
  if (bytes.length < headerBytes) throw new RangeError('these bytes are no traces');
  const header = new Float64Array(bytes.slice(0, headerBytes).buffer);
  const [durationSeconds, sampleRate, frames, binFrames, loudest, strengthRate, chromaRate] = header;
  let at = headerBytes;
  const [extremes, low, middle, high, chords, bass] = Array.from(header.subarray(FIGURES), (length) => {
    const part = bytes.subarray(at, at + length);
    at += length;
    return part;
  });
  if (at !== bytes.length) throw new RangeError('these bytes are no traces: their length is wrong');
  const signed = new Int8Array(extremes.buffer, extremes.byteOffset, extremes.length);
  const bins = signed.length / 2;
  const scale = loudest / 127;
  const min = Float32Array.from({ length: bins }, (_, i) => signed[2 * i] * scale);
  const max = Float32Array.from({ length: bins }, (_, i) => signed[2 * i + 1] * scale);
  return {
    durationSeconds,
    peaks: { sampleRate, frames, levels: peakLevels({ binFrames, min, max }) },
    strength: { rate: strengthRate, bands: [low, middle, high] },
    chords: { rate: chromaRate, rows: chords },
    bass: { rate: chromaRate, rows: bass },
  };
}
