import { carriedThrough, turnedCopy } from './carry';
import { earOf, edgeAt, samplesFrom } from './ear';
import type { Progress } from './progress';
import type { Span } from './spans';
import type { Turns } from './turns';
import { vocoded, type VocoderSettings } from './vocoder';

/**
 * Lays the spans of a source beside each other into `out`, each as long as it is to be, its pitch held. `isLoop`: both sides
 * go round; `stride`: every so many frames of it tell all. Before each span it tells what of the source it is about to read, in frames from its beginning, and up to where the
 * result is made.
 */
export function* stretching(
  source: readonly Float32Array[],
  spans: readonly Span[],
  out: readonly Float32Array[],
  isLoop: boolean,
  settings: VocoderSettings,
  stride = 1,
): Generator<Progress, void, void> {
  let turns: Turns | null = null;
  const furthest = settings.windows[settings.windows.length - 1];
  for (const [i, span] of spans.entries()) {
    yield { made: Math.max(0, span.at), needs: isLoop ? source[0].length : span.to + furthest };
    const tail = (spans[i + 1] ?? (isLoop ? spans[0] : null))?.fade ?? 0;
    const room = span.until + tail - span.at;
    let samples: Float32Array[];
    if (isCopied(span)) {
      if (span.struck && turns)
        turns = carriedThrough(source, span.struck, turns, isLoop, settings.windows, settings.rate, stride);
      samples = turns
        ? turnedCopy(
            earOf(source, isLoop, span.hears, edgeAt(settings.rate), stride),
            span.from,
            room,
            turns,
            settings.overlap,
          )
        : source.map((channel) => samplesFrom(channel, span.from, room, isLoop));
    } else ({ samples, turns } = vocoded(source, span, room, isLoop, settings, turns, stride));
    samples.forEach((piece, c) => layOver(out[c], piece, span.at, span.fade, tail, isLoop));
  }
}

const isCopied = ({ from, to, at, until, path, struck }: Span) =>
  struck !== null || (to - from === until - at && path.source.length === 2);

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
