import { randomFrom } from '@/demo/random';
import { makeCanvas, makeKit, makeVoice, treat, type DrumName, type VoiceKind } from './practiceSounds';

const RATE = 22050;

/** A one-shot that the training script makes itself: a hit, a note, a chord, a rattle or a texture. */
export function practiceOneShot(seed: number): Float32Array {
  const random = randomFrom(seed * 6151 + 7);
  const between = (a: number, b: number) => a + (b - a) * random();
  const pick = <T>(options: readonly T[]) => options[Math.floor(random() * options.length)];
  const lead = random() < 0.4 ? between(0, 0.25) : between(0, 0.01);
  const seconds = pick([0.15, 0.4, 0.8, 1.5, 1.5, 2.5, 4, 7]) * between(0.7, 1.3);
  const canvas = makeCanvas(lead + seconds, RATE, seed);
  const kit = makeKit(random);
  const drum = () => pick(Object.keys(kit) as DrumName[]);
  const what = random();
  if (what < 0.35) {
    const name = drum();
    kit[name](canvas, lead, 1);
    if (random() < 0.3) kit[drum()](canvas, lead + between(0, 0.03), between(0.3, 0.8));
  } else if (what < 0.7) {
    // A note, or several that sound together or are strummed.
    const voice = makeVoice(
      pick<VoiceKind>(['keys', 'pluck', 'pad', 'bass', 'mallet', 'brass', 'lead']),
      440 * 2 ** (between(-30, 30) / 1200),
      random,
    );
    const root = Math.round(between(30, 76));
    const notes =
      random() < 0.6
        ? [0]
        : pick([
            [0, 4, 7],
            [0, 3, 7],
            [0, 7],
            [0, 4, 7, 11],
            [0, 3, 7, 10],
            [0, 12],
          ]);
    const spread = random() < 0.5 ? 0 : between(0.01, 0.05);
    const held = seconds * between(0.3, 0.9);
    notes.forEach((note, i) => voice.play(canvas, lead + i * spread, root + note, held, 0.4));
  } else if (what < 0.87) {
    // Grains close together that thin out: a rattle, a scrape, a flam, a shaker flick.
    const name = drum();
    let at = lead;
    let gap = between(0.012, 0.09);
    const slowing = between(0.9, 1.25);
    const fading = between(0.6, 1);
    for (let gain = 1; gain > 0.08 && at < lead + Math.min(seconds, 1.6); at += gap * between(0.7, 1.3)) {
      kit[name](canvas, at, gain * between(0.6, 1));
      gap *= slowing;
      gain *= fading;
    }
  } else {
    // A texture: noise that swells and drifts, or many grains without a pulse.
    const { samples } = canvas;
    if (random() < 0.5) {
      let low = 0;
      const [slow, fast] = [between(0.1, 0.8), between(0.01, 0.3)];
      for (let i = 0; i < samples.length; i++) {
        low += fast * (random() * 2 - 1 - low);
        samples[i] = low * (0.6 + 0.4 * Math.sin(6.28 * slow * (i / RATE))) * Math.min(1, i / (0.3 * RATE));
      }
    } else {
      for (let at = lead; at < lead + seconds; at += -Math.log(1 - random()) * between(0.03, 0.25))
        kit[drum()](canvas, at, between(0.05, 0.6));
    }
  }
  treat(canvas, random);
  const hiss = random() < 0.5 ? 10 ** between(-4, -2.6) : 1e-5;
  for (let i = 0; i < canvas.samples.length; i++) canvas.samples[i] += hiss * (random() - 0.5);
  return canvas.samples;
}
