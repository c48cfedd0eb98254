// @ts-check
// Bundles a TypeScript command and runs it: `node scripts/run.mjs scripts/measure.ts FILE…`.
import { spawn } from 'node:child_process';
import { bundleNode } from './lib/bundle.mjs';

const [command, ...args] = process.argv.slice(2);
const [entry] = await bundleNode([command]);
const child = spawn(process.execPath, ['--enable-source-maps', entry, ...args], { stdio: 'inherit' });
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM']))
  process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(signal ? 1 : (code ?? 1)));
