// @ts-check
// Finds circles of imports: between files anywhere, and between the folders of src/core, src/library and src/ui, and between the rooms of src.
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';
import { projectFolder } from './lib/project.mjs';
import { say } from './lib/say.mjs';

/** @typedef {Map<string, Set<string>>} Graph what imports what */

const files = ['src', 'lab', 'scripts', 'tests'].flatMap((root) =>
  readdirSync(join(projectFolder, root), { recursive: true })
    .map((name) => join(root, String(name)))
    .filter((name) => /\.(ts|tsx|mjs)$/.test(name)),
);
const known = new Set(files);

/** @param {string} from @param {string} name @returns {string | null} the file of ours that is meant */
function resolve(from, name) {
  const path = name.startsWith('@/')
    ? join('src', name.slice(2))
    : name.startsWith('.')
      ? relative('.', join(dirname(from), name))
      : null;
  if (path === null) return null;
  return ['', '.ts', '.tsx', '/index.ts'].map((end) => path + end).find((file) => known.has(file)) ?? null;
}

/** @type {Graph} */
const byFile = new Map(
  files.map((file) => {
    const { importedFiles } = ts.preProcessFile(readFileSync(join(projectFolder, file), 'utf8'), true, true);
    return [file, new Set(importedFiles.flatMap(({ fileName }) => resolve(file, fileName) ?? []))];
  }),
);

/** Tests may look into other folders. @param {(file: string) => string | null} groupOf @returns {Graph} */
function grouped(groupOf) {
  /** @type {Graph} */
  const graph = new Map();
  for (const [file, imports] of byFile) {
    const from = /\.test\.tsx?$/.test(file) ? null : groupOf(file);
    if (from === null) continue;
    const all = graph.get(from) ?? new Set();
    graph.set(from, all);
    for (const other of imports) {
      const to = groupOf(other);
      if (to !== null && to !== from) all.add(to);
    }
  }
  return graph;
}

/** The first circle that is met, as the way along it. @param {Graph} graph @returns {string[] | null} */
function circleIn(graph) {
  const done = new Set();
  /** @type {string[]} */
  const way = [];
  /** @param {string} name @returns {string[] | null} */
  const visit = (name) => {
    if (way.includes(name)) return [...way.slice(way.indexOf(name)), name];
    if (done.has(name)) return null;
    way.push(name);
    for (const next of graph.get(name) ?? []) {
      const circle = visit(next);
      if (circle) return circle;
    }
    way.pop();
    done.add(name);
    return null;
  };
  for (const name of graph.keys()) {
    const circle = visit(name);
    if (circle) return circle;
  }
  return null;
}

const folderOfCore = (/** @type {string} */ file) => /^src\/core\/[^/]+(?=\/)/.exec(file)?.[0] ?? null;
const folderOfLibrary = (/** @type {string} */ file) => /^src\/library\/[^/]+(?=\/)/.exec(file)?.[0] ?? null;
/** Rooms of the interface, by screen. */
const folderOfUi = (/** @type {string} */ file) => /^src\/ui\/[^/]+(?=\/)/.exec(file)?.[0] ?? null;
const room = (/** @type {string} */ file) => /^(src\/[^/]+|lab|scripts|tests)(?=\/)/.exec(file)?.[0] ?? null;
const found = [
  byFile,
  grouped(folderOfCore),
  grouped(folderOfLibrary),
  grouped(folderOfUi),
  grouped(room),
].flatMap((graph) => {
  const circle = circleIn(graph);
  return circle ? [circle] : [];
});
for (const circle of found) say(`A circle of imports: ${circle.join(' → ')}`);
process.exit(found.length ? 1 : 0);
