// @ts-check
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectFolder } from './project.mjs';

/** Seconds that each suite took on a quiet machine of two cores. */
const BUDGETS = join(projectFolder, 'tests', 'budgets.json');
/** So many times as slow as the whole run is against the budgets a suite may be, and so many seconds more. */
const MOST = 2;
const SLACK = 15;

/** @typedef {{ suite: string, seconds: number }} SuiteTime */

/**
 * The suites that took more than twice their budget, where machines differ: each suite's ratio is held against the
 * median ratio of the run.
 * @param {readonly SuiteTime[]} times @param {Record<string, number>} budgets @returns {{ suite: string, seconds: number, allowed: number }[]}
 */
export function overBudget(times, budgets) {
  const ratios = times
    .filter(({ suite, seconds }) => budgets[suite] > 0 && seconds > 0)
    .map(({ suite, seconds }) => seconds / budgets[suite])
    .sort((a, b) => a - b);
  const usual = Math.max(1, ratios[ratios.length >> 1] ?? 1);
  return times.flatMap(({ suite, seconds }) => {
    if (budgets[suite] === undefined) return [];
    const allowed = MOST * usual * budgets[suite] + SLACK;
    return seconds > allowed ? [{ suite, seconds, allowed }] : [];
  });
}

/** @returns {Record<string, number>} */
export const readBudgets = () => (existsSync(BUDGETS) ? JSON.parse(readFileSync(BUDGETS, 'utf8')) : {});

/** Keeps the times of this run as the budgets. @param {readonly SuiteTime[]} times */
export function keepBudgets(times) {
  const budgets = Object.fromEntries(
    times.map(({ suite, seconds }) => [suite, Math.max(1, Math.round(seconds))]),
  );
  const sorted = Object.fromEntries(Object.entries(budgets).sort(([a], [b]) => a.localeCompare(b)));
  writeFileSync(BUDGETS, `${JSON.stringify(sorted, null, 2)}\n`);
}
