// @ts-check
import { appendFileSync } from 'node:fs';
import { relative } from 'node:path';
import { projectFolder } from './project.mjs';

/** Writes how long each suite took, loading included, as lines of JSON to the file named by GRENTO_SUITE_TIMES. */
export default class TimesReporter {
  /** @type {Map<string, number>} */
  #began = new Map();

  /** @param {{ path: string }} test */
  onTestStart({ path }) {
    this.#began.set(path, Date.now());
  }

  /** @param {{ path: string }} test */
  onTestResult({ path }) {
    const file = process.env.GRENTO_SUITE_TIMES;
    if (!file) return;
    const seconds = (Date.now() - (this.#began.get(path) ?? Date.now())) / 1000;
    appendFileSync(file, `${JSON.stringify({ suite: relative(projectFolder, path), seconds })}\n`);
  }
}
