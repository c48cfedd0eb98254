import makeWabt from 'wabt';

export const KERNELS_SOURCE = 'src/core/signal/kernels.wat';
export const KERNELS_FILE = 'src/core/signal/kernels.json';

/** Assembles WebAssembly text with SIMD; returns the module in base 64. Throws with the place of what is wrong. */
export async function assembleKernels(text: string): Promise<string> {
  const wabt = await makeWabt();
  const parsed = wabt.parseWat(KERNELS_SOURCE, text, { simd: true });
  try {
    parsed.validate();
    return Buffer.from(parsed.toBinary({}).buffer).toString('base64');
  } finally {
    parsed.destroy();
  }
}
