import { featuresOf } from '@/core/resemblance/features';
import { cubesOf } from '@/core/library/listRow';
import { readWithoutFeatures, writeFeatures } from '@/store/features';

const AT_ONCE = 200;

/** Keeps the features of samples that were measured before they were kept; ends early when `stopped`. */
export async function keepMissingFeatures(stopped: () => boolean = () => false): Promise<number> {
  let kept = 0;
  while (!stopped()) {
    const samples = await readWithoutFeatures(AT_ONCE);
    if (samples.length === 0) break;
    await writeFeatures(
      samples.map(({ sampleId, measurement, grid }) => ({
        sampleId,
        like: cubesOf(featuresOf(measurement, grid)!),
      })),
    );
    kept += samples.length;
  }
  return kept;
}
