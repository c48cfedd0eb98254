import { readFileSync, writeFileSync } from 'node:fs';
import { assembleKernels, KERNELS_FILE, KERNELS_SOURCE } from './lib/assembleKernels';

// Assembles src/core/signal/kernels.wat into the file that the application loads.
const wasm = await assembleKernels(readFileSync(KERNELS_SOURCE, 'utf8'));
writeFileSync(KERNELS_FILE, `{\n  "wasm": "${wasm}"\n}\n`);
console.log(`${KERNELS_FILE}: ${(wasm.length * 3) / 4} bytes`);
