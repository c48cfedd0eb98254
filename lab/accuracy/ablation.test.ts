import { conclude, explainRhythm } from '@/core/measurement/measure';
import { hearSamples } from '../training/excerpts';
import { practicePiece } from '../training/practice';
import { ablate, VARIANTS } from './ablation';

const heard = await hearSamples(practicePiece(10).samples);
const variants = ablate(heard);
const engine = variants.get('the engine')!;

test('the first variant is the engine itself', () => {
  expect(variants.size).toBe(VARIANTS.length);
  expect(engine).toEqual(conclude(heard, explainRhythm(heard)));
});

test.each(VARIANTS.slice(1).map(({ name }) => name))(
  '“%s” leaves something out: it believes otherwise',
  (name) => {
    const found = variants.get(name)!;
    const beliefs = ({ tempo, meter, theOneSureness }: typeof engine) => [
      tempo?.sureness,
      meter?.sureness,
      theOneSureness,
    ];
    expect(beliefs(found)).not.toEqual(beliefs(engine));
    // The loop is as long as it is, whatever is believed.
    expect(found.durationSeconds).toBe(engine.durationSeconds);
  },
);
