import { obey } from '@/core/playing/commands';
import { Mixer } from '@/core/playing/mixer';
import type { Stage } from '@/ui/audio/stage';
import { FitThread } from '@/ui/audio/fitThread';
import { FitCache } from '@/ui/audio/openFit';
import { SampleCache } from '@/ui/audio/sampleCache';
import { decoded, DecoderStandIn } from './decoderStandIn';

const BLOCK = 128;

/** A page's engine as far as several samples on one clock go, heard block by block on its left side. */
export function soundRoom(rate: number) {
  const mixer = new Mixer(rate);
  const heard: number[] = [];
  const looked: string[] = [];
  const faults: string[] = [];
  /** Frame of the clock at the first that was heard. */
  let begun = 0;
  const stage: Stage = {
    rate: () => rate,
    tell: (told) => obey(mixer, told),
    now: () => (mixer.playing ? mixer.position : null),
    startAt: (frame, audibleFrom) => {
      mixer.start(frame, audibleFrom);
      heard.length = 0;
      begun = mixer.position;
    },
    looksAt: (id) => looked.push(id),
    fault: (fault) => faults.push(fault),
  };
  const samples = new SampleCache(() => rate);
  const fits = new FitCache(samples, new FitThread(), () => rate);
  const listen = (seconds: number) => {
    for (let done = 0; done < seconds * rate; done += BLOCK) {
      const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
      mixer.render(left, right);
      heard.push(...left);
    }
  };
  /** Frames of what was heard at which something rises out of silence. */
  const rises = (loud: number) => {
    const found: number[] = [];
    let last = -Infinity;
    heard.forEach((value, i) => {
      if (Math.abs(value) <= loud) return;
      if (i - last > 300) found.push(i);
      last = i;
    });
    return found;
  };
  return { mixer, stage, heard, looked, faults, samples, fits, listen, rises, begun: () => begun };
}

/** Lets everything that waits in the test's loop happen. */
export const settle = async () => {
  for (let i = 0; i < 80; i++) await new Promise(setImmediate);
};

/** The bytes of a sample are there, and are these. */
export async function decode(id: string, samples: Float32Array, rate: number) {
  DecoderStandIn.of(id)?.answer(decoded([samples], [samples], rate));
  await settle();
}
