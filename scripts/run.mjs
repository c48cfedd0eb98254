// @ts-check
// Bundles one of the TypeScript commands in scripts/ and runs it: `node scripts/run.mjs measure -- FILE…`.
import { spawn } from 'node:child_process';
import { bundleNode } from './lib/bundle.mjs';

const [name, ...args] = process.argv.slice(2);
const [entry] = await bundleNode([`scripts/${name}.ts`]);
const child = spawn(process.execPath, ['--enable-source-maps', entry, ...args], { stdio: 'inherit' });
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM']))
  process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(signal ? 1 : (code ?? 1)));
