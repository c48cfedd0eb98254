/** The part of PFFFT's WebAssembly build that is used; addresses are byte offsets into its memory. */
declare module '@echogarden/pffft-wasm/simd' {
  interface Pffft {
    HEAPF32: Float32Array;
    /** `transform` 0 is real, 1 complex. */
    _pffft_new_setup(size: number, transform: 0 | 1): number;
    _pffft_aligned_malloc(bytes: number): number;
    /** `direction` 0 is forward, 1 backward. */
    _pffft_transform_ordered(
      setup: number,
      input: number,
      output: number,
      work: number,
      direction: 0 | 1,
    ): void;
  }
  export default function createPffft(): Promise<Pffft>;
}
