// @ts-check
import { build } from 'esbuild';
import { copyFile, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { projectFolder } from './project.mjs';

/**
 * Bundles TypeScript entry points for Node into build/ and returns the paths of the bundles. Packages stay
 * outside the bundle, so that decoders find their own files.
 * @param {string[]} entries paths relative to the project
 */
export async function bundleNode(entries) {
  await build({
    absWorkingDir: projectFolder,
    entryPoints: entries,
    outdir: 'build',
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    alias: { '@': join(projectFolder, 'src') },
    logLevel: 'warning',
  });
  return entries.map((entry) => join(projectFolder, 'build', basename(entry).replace(/\.ts$/, '.mjs')));
}

/** Bundles audio worklets and web workers that the page loads by address into public/built/. */
export async function bundleBrowser() {
  // Parts are named by their content: those of earlier builds would stay.
  await rm(join(projectFolder, 'public/built'), { recursive: true, force: true });
  await build({
    absWorkingDir: projectFolder,
    entryPoints: ['engine.worklet', 'decode.worker', 'listen.worker', 'events.worker'].map(
      (name) => `src/workers/${name}.ts`,
    ),
    outdir: 'public/built',
    entryNames: '[name]',
    bundle: true,
    splitting: true,
    chunkNames: 'part-[hash]',
    platform: 'browser',
    format: 'esm',
    target: 'es2022',
    sourcemap: false,
    minify: true,
    alias: { '@': join(projectFolder, 'src') },
    // Asked for by the FFT's loader in Node only.
    external: ['module'],
    logLevel: 'warning',
  });
  // The loader looks for it beside itself.
  await copyFile(
    join(projectFolder, 'node_modules/@echogarden/pffft-wasm/dist/simd/pffft.wasm'),
    join(projectFolder, 'public/built/pffft.wasm'),
  );
}
