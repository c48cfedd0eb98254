// @ts-check
import { build } from 'esbuild';
import { copyFile, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { projectFolder } from './project.mjs';

/**
 * Bundles TypeScript entry points for Node into build/ and returns the paths of the bundles. Packages stay
 * outside the bundle, so that decoders find their own files.
 * @param {string[]} entries paths relative to the project
 */
export async function bundleNode(entries) {
  const { outputFiles } = await build({
    write: false,
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
  for (const { path, contents } of outputFiles) await writeWhenOther(path, contents);
  return entries.map((entry) => join(projectFolder, 'build', basename(entry).replace(/\.ts$/, '.mjs')));
}

/**
 * What is there already is left alone: somebody may be reading it. A new one takes its place in one go.
 * @param {string} path @param {Uint8Array} contents
 */
async function writeWhenOther(path, contents) {
  const before = await readFile(path).catch(() => null);
  if (before?.equals(contents)) return;
  await mkdir(dirname(path), { recursive: true });
  const beside = `${path}.${process.pid}`;
  await writeFile(beside, contents);
  await rename(beside, path);
}

/** Bundles audio worklets and web workers that the page loads by address into public/built/. */
export async function bundleBrowser() {
  // Parts are named by their content: those of earlier builds would stay.
  await rm(join(projectFolder, 'public/built'), { recursive: true, force: true });
  await build({
    absWorkingDir: projectFolder,
    entryPoints: [
      'engine.worklet',
      'decode.worker',
      'listen.worker',
      'events.worker',
      'fit.worker',
      'finds.worker',
    ].map((name) => `src/workers/${name}.ts`),
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
