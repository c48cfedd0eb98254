/** Recordings of all kinds with known tempo are spread like this: a normal distribution over the logarithm of the tempo. */
const GENERAL = { middleBpm: 111, octaves: 0.383 };
/** Tempi of a library are alike within this, octaves. */
const ALIKE_OCTAVES = 0.15;
/** So many proved tempi weigh as much as what is generally so. */
const SHRINKAGE = 20;

const normal = (x: number, deviation: number) =>
  Math.exp(-0.5 * (x / deviation) ** 2) / (deviation * Math.sqrt(2 * Math.PI));

/**
 * How much more often than generally a tempo occurs in a library, as log odds by BPM: a kernel density (Parzen 1962) of its proved
 * tempi, shrunk to the general distribution while they are few. Nought everywhere where there are none.
 */
export function libraryTempi(provedBpm: readonly number[]): (bpm: number) => number {
  if (provedBpm.length === 0) return () => 0;
  const proved = provedBpm.map(Math.log2);
  const middle = Math.log2(GENERAL.middleBpm);
  return (bpm) => {
    const at = Math.log2(bpm);
    // Nobody has met such tempi: nothing is divided by next to nothing.
    const general = Math.max(1e-3, normal(at - middle, GENERAL.octaves));
    const here = proved.reduce((sum, one) => sum + normal(at - one, ALIKE_OCTAVES), 0);
    return Math.log((here + SHRINKAGE * general) / ((proved.length + SHRINKAGE) * general));
  };
}
