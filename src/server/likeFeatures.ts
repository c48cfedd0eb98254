import { featuresOf } from '@/core/resemblance/features';
import { placesOf } from '@/core/library/listRow';
import { readWithoutPlaces, writePlaces } from '@/store/features';

const AT_ONCE = 200;

/** Keeps the places of samples that were measured before places were kept; ends early when `stopped`. */
export async function keepMissingPlaces(stopped: () => boolean = () => false): Promise<number> {
  let kept = 0;
  while (!stopped()) {
    const samples = await readWithoutPlaces(AT_ONCE);
    if (samples.length === 0) break;
    await writePlaces(
      samples.map(({ sampleId, measurement, grid }) => ({
        sampleId,
        like: placesOf(featuresOf(measurement, grid)!),
      })),
    );
    kept += samples.length;
  }
  return kept;
}
