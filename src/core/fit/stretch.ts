import { carriedThrough, turnedCopy } from './carry';
import { earOf, samplesFrom } from './ear';
import type { Span } from './spans';
import type { Turns } from './turns';
import { vocoded, type VocoderSettings } from './vocoder';

/**
 * Lays the spans of a source beside each other, each as long as it is to be, its pitch held. `length`: of the result;
 * `isLoop`: both sides go round. Spans stand one after another in both; those of a loop may begin before 0.
 */
export function stretch(
  source: readonly Float32Array[],
  spans: readonly Span[],
  length: number,
  isLoop: boolean,
  settings: VocoderSettings,
): Float32Array[] {
  const out = source.map(() => new Float32Array(length));
  let turns: Turns | null = null;
  spans.forEach((span, i) => {
    const tail = (spans[i + 1] ?? (isLoop ? spans[0] : null))?.fade ?? 0;
    const room = span.until + tail - span.at;
    let samples: Float32Array[];
    if (span.to - span.from === span.until - span.at) {
      const carried: Turns | null =
        span.struck && turns
          ? carriedThrough(source, span.struck, turns, isLoop, settings.windows, settings.rate)
          : null;
      samples = carried
        ? turnedCopy(earOf(source, isLoop, span.hears), span.from, room, carried, settings.overlap)
        : source.map((channel) => samplesFrom(channel, span.from, room, isLoop));
      turns = carried;
    } else ({ samples, turns } = vocoded(source, span, room, isLoop, settings, turns));
    samples.forEach((piece, c) => layOver(out[c], piece, span.at, span.fade, tail, isLoop));
  });
  return out;
}

/** Adds a piece from a place on, faded in and out beside its neighbours. */
function layOver(
  out: Float32Array,
  piece: Float32Array,
  at: number,
  fadeIn: number,
  fadeOut: number,
  isLoop: boolean,
) {
  const { length } = out;
  for (let n = 0; n < piece.length; n++) {
    let to = at + n;
    if (isLoop) to = ((to % length) + length) % length;
    else if (to < 0 || to >= length) continue;
    const left = piece.length - n;
    let gain = 1;
    if (n < fadeIn) gain *= 0.5 - 0.5 * Math.cos((Math.PI * (n + 0.5)) / fadeIn);
    if (left <= fadeOut) gain *= 0.5 - 0.5 * Math.cos((Math.PI * (left - 0.5)) / fadeOut);
    out[to] += gain * piece[n];
  }
}
