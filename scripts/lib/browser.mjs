// @ts-check
import { existsSync } from 'node:fs';
import { installDebian } from './install.mjs';

/** Debian's headless Chromium: without windows it needs a quarter less of the processor than the whole browser. */
const HEADLESS = { path: '/usr/bin/chromium-headless-shell', name: 'chromium-headless-shell' };
const WHOLE = { path: '/usr/bin/chromium', name: 'chromium' };

/** The browser that tests and pictures drive: the first that is there. */
export const browserPath = () =>
  [HEADLESS, WHOLE].find(({ path }) => existsSync(path))?.path ?? HEADLESS.path;

/** Installs the browser where it is missing; where only the whole one can be had, that one does. */
export function needBrowser() {
  if (existsSync(HEADLESS.path)) return;
  if (!installDebian([HEADLESS.name], 'headless Chromium', true) && !existsSync(WHOLE.path))
    installDebian([WHOLE.name], 'Chromium');
}
