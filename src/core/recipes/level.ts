/** The loudest sample, of full scale. */
export const loudestOf = (channels: readonly Float32Array[]): number =>
  channels.reduce((most, channel) => channel.reduce((a, b) => Math.max(a, Math.abs(b)), most), 0);

/** By how much something as loud as that is made quieter so that it does not clip, dB in hundredths; 0: not at all. */
export const quieterBy = (loudest: number): number =>
  loudest > 1 ? Math.ceil(100 * 20 * Math.log10(loudest)) / 100 : 0;
