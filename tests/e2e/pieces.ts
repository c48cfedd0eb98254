import { expect, type Page } from '@playwright/test';
import { encodeWave } from '@/core/formats/encodeWave';
import { ALL_KEYS, keyLabel, type Key } from '@/core/harmony/keyNames';
import { given } from './support';
import { framesHeard } from './tap';

export const RATE = 44_100;
export const keyOf = (label: string): Key => ALL_KEYS.find((one) => keyLabel(one) === label)!;

/** A loop whose every beat is struck over a tone. */
export interface Piece {
  name: string;
  bpm: number;
  beatsPerBar: number;
  bars: number;
  key: Key;
}
/** A short hit on each beat over a tone that loops without a seam; the tone is the tonic, as near as that allows. */
export function pieceOf({ bpm, beatsPerBar, bars, key }: Piece): { samples: Float32Array; hz: number } {
  const beats = beatsPerBar * bars;
  const samples = new Float32Array(Math.round((beats * 60 * RATE) / bpm));
  const hz =
    (Math.round((220 * 2 ** (((key.tonic + 3) % 12) / 12) * samples.length) / RATE) * RATE) / samples.length;
  for (let i = 0; i < samples.length; i++) samples[i] = 0.12 * Math.sin((2 * Math.PI * hz * i) / RATE);
  for (let beat = 0; beat < beats; beat++) {
    const at = Math.round((beat * 60 * RATE) / bpm);
    for (let i = 0; i < 300 && at + i < samples.length; i++)
      samples[at + i] += 0.75 * Math.cos(i / 2.5) * Math.exp(-i / 40);
  }
  return { samples, hz };
}

/** Takes a piece in, settles what it is, and saves it. */
export async function saved(page: Page, piece: Piece): Promise<string> {
  const { samples } = pieceOf(piece);
  const sampleId = await given(page, {
    name: `${piece.name}.wav`,
    bytes: encodeWave([samples], RATE, '32f'),
  });
  const grid = {
    ...{ tempoBpm: piece.bpm, one: 0, movingBeats: null },
    meter: { beatsPerBar: piece.beatsPerBar, beatUnit: 4 },
  };
  const orders = [
    {
      do: 'settle',
      words: 'what the pack is',
      patch: {
        grid,
        key: piece.key,
        kind: 'loop',
        tuningCents: 0,
        beatsPerBar: piece.beatsPerBar,
        pins: [],
        loop: null,
      },
    },
    { do: 'save' },
  ];
  for (const order of orders) {
    const answer = await page.request.post(`/api/samples/${sampleId}/changes`, {
      data: { base: null, order },
    });
    expect(answer.ok(), await answer.text()).toBe(true);
  }
  return sampleId;
}

/** Waits until so many seconds more were heard. */
export const hear = async (page: Page, seconds: number) => {
  const wanted = (await framesHeard(page)) + seconds * RATE;
  await expect.poll(() => framesHeard(page), { timeout: 60_000, intervals: [50] }).toBeGreaterThan(wanted);
};

/** Frames at which a hit begins. */
export function hitsIn(samples: readonly number[]): number[] {
  const found: number[] = [];
  let last = -Infinity;
  samples.forEach((value, i) => {
    if (Math.abs(value) < 0.45) return;
    if (i - last > 4000) found.push(i);
    last = i;
  });
  return found;
}

/** Frequency of the tone between two frames, by how its phase goes on. */
export function frequencyIn(samples: readonly number[], from: number, to: number, near: number): number {
  const half = (to - from) >> 1;
  const phase = (first: number) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < half; i++) {
      const weight = 1 - Math.cos((2 * Math.PI * (i + 0.5)) / half);
      const angle = (2 * Math.PI * near * (first + i)) / RATE;
      re += weight * samples[first + i] * Math.cos(angle);
      im -= weight * samples[first + i] * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  let turn = phase(from + half) - phase(from);
  turn -= 2 * Math.PI * Math.round(turn / (2 * Math.PI));
  return near + (turn * RATE) / (2 * Math.PI * half);
}
