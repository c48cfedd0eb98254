import { carriedThrough, turnedCopy } from './carry';
import { analyserOf, samplesFrom } from './analyser';
import type { Progress } from './progress';
import type { Span } from './spans';
import type { Turns } from './turns';
import { vocoded, type VocoderSettings } from './vocoder';

/**
 * Lays the spans of a source beside each other into `out`, each as long as it is to be, its pitch held. `isLoop`: both sides
 * loop. Before each span it tells what of the source it is about to read, in frames from its beginning, and up to where the
 * result is made.
 */
export function* stretching(
  source: readonly Float32Array[],
  spans: readonly Span[],
  out: readonly Float32Array[],
  isLoop: boolean,
  settings: VocoderSettings,
): Generator<Progress, void, void> {
  let turns: Turns | null = null;
  const furthest = settings.windows[settings.windows.length - 1];
  for (const [i, span] of spans.entries()) {
    yield { made: Math.max(0, span.at), needs: isLoop ? source[0].length : span.to + furthest };
    const tail = (spans[i + 1] ?? (isLoop ? spans[0] : null))?.fade ?? 0;
    const room = span.until + tail - span.at;
    let samples: Float32Array[];
    if (isCopied(span)) {
      if (span.struck && turns) turns = carriedThrough(source, span.struck, turns, isLoop, settings);
      samples = turns
        ? turnedCopy(
            analyserOf(source, isLoop, span.hears, settings),
            span.from,
            room,
            turns,
            settings.overlap,
          )
        : source.map((channel) => samplesFrom(channel, span.from, room, isLoop));
    } else ({ samples, turns } = vocoded(source, span, room, isLoop, settings, turns));
    samples.forEach((piece, c) => arrangeOver(out[c], piece, span.at, span.fade, tail, isLoop));
  }
}

const isCopied = ({ from, to, at, until, path, struck }: Span) =>
  struck !== null || (to - from === until - at && path.source.length === 2);

/** Adds a piece from a place on, faded in and out beside its neighbours; what hangs over an end loops or is left out. */
function arrangeOver(
  out: Float32Array,
  piece: Float32Array,
  at: number,
  fadeIn: number,
  fadeOut: number,
  isLoop: boolean,
) {
  const { length } = out;
  const end = piece.length;
  const rising = (n: number, fade: number) => 0.5 - 0.5 * Math.cos((Math.PI * (n + 0.5)) / fade);
  for (let n = 0; n < Math.min(end, fadeIn); n++) piece[n] *= rising(n, fadeIn);
  for (let n = 1; n <= Math.min(end, fadeOut); n++) piece[end - n] *= rising(n - 1, fadeOut);
  let from = 0;
  let to = at;
  if (isLoop) to = ((at % length) + length) % length;
  else if (at < 0) [from, to] = [-at, 0];
  for (let n = from; n < end; n++, to++) {
    if (to === length) {
      if (!isLoop) return;
      to = 0;
    }
    out[to] += piece[n];
  }
}
